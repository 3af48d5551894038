import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import type { Effect, InvoiceLineBody, Article } from '../api/client';
import { Amount } from '../parts/Amount';
import { useAccounts, useFirm, useArticles, useTaxCodes } from '../parts/records';
import { LessField } from './LessField';
import { UnderstoodField } from '../parts/UnderstoodField';

const What = styled(TextField)({
  '& .MuiInput-root::before': { borderBottom: 0 },
  '& .MuiInput-input': { padding: '1px 3px !important' },
});
const Account = styled(Select)(({ theme }) => ({
  fontSize: 13,
  color: theme.vars!.palette.text.secondary,
  '& .MuiSelect-select': { padding: '2px 20px 2px 3px !important', minHeight: '20px !important' },
}));
const Cell = styled(TableCell)({ verticalAlign: 'top', paddingTop: 7 });
const Row = styled(TableRow)({
  '& .drop': { opacity: 0, minWidth: 22, padding: 0, position: 'absolute', right: -26, top: 3 },
  '&:hover .drop, &:focus-within .drop': { opacity: 1 },
});

interface Props {
  lines: InvoiceLineBody[];
  effect: Effect | undefined;
  onChange: (update: (now: InvoiceLineBody[]) => InvoiceLineBody[]) => void;
  refused: (field: string) => boolean;
}

/** The lines of an invoice, with one more that is empty for what comes next. */
export function InvoiceLines({ lines, effect, onChange, refused }: Props) {
  const all = withNext(lines);
  const set = (n: number, part: Partial<InvoiceLineBody>) =>
    onChange((now) => withNext(now).map((l, i) => (i === n ? { ...l, ...part } : l)));
  return (
    <Table aria-label="Lines">
      <TableHead>
        <TableRow>
          <TableCell>What</TableCell>
          <TableCell align="right" sx={{ width: 70 }}>
            Quantity
          </TableCell>
          <TableCell align="right" sx={{ width: 100 }}>
            Unit price
          </TableCell>
          <TableCell align="right" sx={{ width: 84 }}>
            Less
          </TableCell>
          <TableCell sx={{ width: 64 }}>Tax</TableCell>
          <TableCell align="right" sx={{ width: 104 }}>
            Net
          </TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {all.map((l, n) => (
          <Line
            key={n}
            n={n}
            line={l}
            sum={effect?.paper?.lines?.[n]?.amount}
            onChange={(part) => set(n, part)}
            onDrop={() => onChange((now) => now.filter((_, i) => i !== n))}
            refused={refused}
          />
        ))}
      </TableBody>
    </Table>
  );
}

/** The lines with one that is empty at the end. */
function withNext(lines: InvoiceLineBody[]): InvoiceLineBody[] {
  return lines.length > 0 && isEmpty(lines[lines.length - 1]!) ? lines : [...lines, {}];
}

function isEmpty(l: InvoiceLineBody): boolean {
  return !l.text && !l.unitPrice && !l.quantity && !l.article;
}

interface LineProps {
  n: number;
  line: InvoiceLineBody;
  sum: string | undefined;
  onChange: (part: Partial<InvoiceLineBody>) => void;
  onDrop: () => void;
  refused: (field: string) => boolean;
}

function Line({ n, line, sum, onChange, onDrop, refused }: LineProps) {
  const items = (useArticles().data?.rows ?? []).filter((i) => !i.inactive);
  const codes = useTaxCodes().data?.rows ?? [];
  const accounts = (useAccounts().data?.rows ?? []).filter((a) => a.type === 'income' && !a.inactive);
  const firm = useFirm().data;
  const service = accounts.find((a) => a.role === 'service sales')?.id ?? 0;
  const material = accounts.find((a) => a.role === 'material sales')?.id ?? 0;
  const f = (name: string) => `lines[${n}].${name}`;
  const own = { taxCode: line.taxCode || firm?.taxCode || 0 };
  const empty = isEmpty(line);
  const pick = (i: Article) =>
    onChange({
      article: i.id,
      text: i.name,
      unitPrice: i.price,
      taxCode: i.taxCode || own.taxCode,
      account: i.account || (i.kind === 'material' ? material : service),
    });
  return (
    <Row>
      <Cell>
        <Autocomplete<Article, false, false, true>
          data-field={f('text')}
          freeSolo
          disableClearable={false as never}
          forcePopupIcon={false}
          clearIcon={null}
          options={items}
          filterOptions={(options, { inputValue }) => {
            const t = inputValue.trim().toLowerCase();
            return t.length < 2
              ? []
              : options.filter((o) => `${o.code} ${o.name}`.toLowerCase().includes(t) && o.name !== line.text).slice(0, 6);
          }}
          getOptionLabel={(o) => (typeof o === 'string' ? o : o.name)}
          renderOption={({ key, ...props }, o) => (
            <li key={key} {...props}>
              {o.code} · {o.name} · {o.price}
            </li>
          )}
          inputValue={line.text ?? ''}
          onInputChange={(_, text, reason) => reason === 'input' && onChange({ text, ...own })}
          onChange={(_, o) => o && typeof o !== 'string' && pick(o)}
          renderInput={(params) => (
            <What
              {...params}
              variant="standard"
              placeholder={empty ? 'Next line: type what you did, or an article' : ''}
              error={refused(f('text'))}
              slotProps={{
                ...params.slotProps,
                htmlInput: { ...params.slotProps.htmlInput, 'aria-label': `What, line ${n + 1}`, 'data-walk': '' },
              }}
            />
          )}
        />
        {!empty && (
          <Account
            variant="standard"
            disableUnderline
            value={line.account || service}
            data-field={f('account')}
            error={refused(f('account'))}
            onChange={(e) => onChange({ account: Number(e.target.value) })}
            inputProps={{ 'aria-label': `Income account, line ${n + 1}` }}
          >
            {accounts.map((a) => (
              <MenuItem key={a.id} value={a.id}>
                {a.name}
              </MenuItem>
            ))}
          </Account>
        )}
      </Cell>
      <Cell align="right">
        <UnderstoodField
          kind="quantity"
          label={`Quantity, line ${n + 1}`}
          field={f('quantity')}
          value={line.quantity ?? ''}
          onChange={(quantity) => onChange({ quantity, ...own })}
          onSheet
          placeholder={empty ? '' : '1'}
          error={refused(f('quantity'))}
        />
      </Cell>
      <Cell align="right">
        <UnderstoodField
          kind="price"
          label={`Unit price, line ${n + 1}`}
          field={f('unitPrice')}
          value={line.unitPrice ?? ''}
          onChange={(unitPrice) => onChange({ unitPrice, ...own })}
          onSheet
          error={refused(f('unitPrice'))}
        />
      </Cell>
      <Cell align="right">
        {!empty && (
          <LessField
            label={`Less, line ${n + 1}`}
            field={f('discount')}
            percent={line.discountPercent ?? ''}
            amount={line.discount ?? ''}
            onChange={(discountPercent, discount) => onChange({ discountPercent, discount })}
            error={refused(f('discount'))}
          />
        )}
      </Cell>
      <Cell>
        {!empty && (
          <Select
            variant="standard"
            disableUnderline
            value={codes.some((c) => c.id === own.taxCode) ? own.taxCode : ''}
            data-field={f('taxCode')}
            onChange={(e) => onChange({ taxCode: Number(e.target.value) })}
            inputProps={{ 'aria-label': `Tax, line ${n + 1}` }}
            renderValue={(v) => {
              const c = codes.find((x) => x.id === v);
              return c?.kind === 'customer accounts' ? c.code : `${c?.rates?.[0]?.percent ?? ''} %`;
            }}
            sx={{ fontSize: 14 }}
          >
            {codes
              .filter((c) => !c.inactive)
              .map((c) => (
                <MenuItem key={c.id} value={c.id}>
                  {c.code} {c.name} {c.kind === 'charged' && `${c.rates?.[0]?.percent} %`}
                </MenuItem>
              ))}
          </Select>
        )}
      </Cell>
      <Cell align="right" sx={{ position: 'relative' }}>
        {!empty && <Amount value={sum} />}
        {!empty && (
          <Button className="drop" aria-label={`Take line ${n + 1} away`} onClick={onDrop} tabIndex={0}>
            ×
          </Button>
        )}
      </Cell>
    </Row>
  );
}
