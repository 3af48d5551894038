import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import type { Article, InvoiceBody, InvoiceLineBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { useAccounts, useArticles, useCustomer, useFirm, useTaxCodes } from '../parts/records';
import { show } from '../parts/show';
import { Boxed, UnderstoodField } from '../parts/UnderstoodField';
import { usePaperForm } from './editing/Editing';
import { Choice } from './editing/fields';
import type { Refused } from './editing/useForm';
import { withNext } from './InvoiceLines';
import { usePaperIn } from './CurrencyFields';
import { CostsOfLine } from './CostsOfLine';
import { useCostsOf } from './costLines';
import { isBlank } from './invoiceLines';
import { SerialsField } from './SerialsField';
import { lineStepOf, type LineStep } from './lineSteps';
import { LessField } from './LessField';
import { taxName } from './TaxCodeField';

const What = styled(Boxed)({
  '& .MuiInput-root::before': { borderBottom: 0 },
  '& .MuiInput-input': { padding: '1px 3px !important' },
});
const Cell = styled(TableCell)({ verticalAlign: 'top', paddingTop: 7 });
const Under = styled('div')({ display: 'flex', alignItems: 'baseline', gap: 2, whiteSpace: 'nowrap' });
const Step = styled(Button)({ minWidth: 20, padding: '0 3px', fontSize: 12.5, lineHeight: 1.5, minHeight: 24 });

// Fewer letters than these find no article.
const fewest = 2;
const most = 6;

interface Props {
  n: number;
  line: InvoiceLineBody;
  sum: string | undefined;
  refused: Refused;
  measure: (row: HTMLElement | null) => void;
  onStep: (n: number, step: LineStep) => void;
}

/** The line in hand. */
export function InvoiceLine({ n, line, sum, refused, measure, onStep }: Props) {
  const form = usePaperForm<InvoiceBody>();
  const codes = (useTaxCodes().data?.rows ?? []).filter((c) => !c.inactive || c.id === line.taxCode);
  const accounts = (useAccounts().data?.rows ?? []).filter((a) => a.type === 'income' && !a.inactive);
  const usual = useFirm().data?.taxCode ?? 0;
  const role = (name: string) => accounts.find((a) => a.role === name)?.id ?? 0;
  const f = (name: string) => `lines[${n}].${name}`;
  const own = { taxCode: line.taxCode || usual };
  const blank = isBlank(line);
  const passes = !!line.costs?.length;
  const behalf = useCostsOf(line).some((c) => c.passOn === 'behalf');
  const group = useCustomer(form.body.customer ?? 0).data?.group;
  const currency = usePaperIn(form.body.customer ?? 0);
  const serial = (useArticles().data?.rows ?? []).find((a) => a.id === line.article)?.serial;
  const set = (part: Partial<InvoiceLineBody>, field = '') =>
    form.change((now) => ({ lines: withNext(now.lines ?? []).map((l, i) => (i === n ? { ...l, ...own, ...part } : l)) }), field);
  const figure = (name: 'quantity' | 'unitPrice', kind: 'quantity' | 'price', label: string, placeholder?: string) => (
    <UnderstoodField
      kind={kind}
      label={`${label}, line ${n + 1}`}
      field={f(name)}
      value={line[name] ?? ''}
      onChange={(v) => set({ [name]: v }, f(name))}
      onSheet
      placeholder={placeholder}
      error={refused(f(name))}
    />
  );
  const onKeyDown = (e: React.KeyboardEvent) => {
    const step = lineStepOf(e);
    if (!step) return;
    e.preventDefault();
    e.stopPropagation();
    onStep(n, step);
  };
  return (
    <TableRow ref={measure} data-index={n} data-hand data-line={n} aria-rowindex={n + 2} onKeyDown={onKeyDown}>
      <Cell>
        <WhatField
          n={n}
          line={line}
          refused={refused(f('text'))}
          onText={(text) => set({ text }, f('text'))}
          onPick={(i) =>
            set({
              article: i.id,
              text: i.name,
              unit: i.unit,
              unitPrice: currency
                ? (i.abroad?.find((p) => p.currency === currency)?.price ?? '')
                : (i.prices?.find((p) => p.group === group)?.price ?? i.price),
              taxCode: i.taxCode || own.taxCode,
              account: i.account || (i.kind === 'material' ? role('material sales') : role('service sales')),
            })
          }
        />
        {passes && <CostsOfLine n={n} line={line} refused={refused} />}
        {serial && <SerialsField name={f('serials')} label={`Numbers of the pieces, line ${n + 1}`} />}
        {!blank && (
          <Under>
            {!passes && (
              <Choice
                onSheet
                label={`Income account, line ${n + 1}`}
                field={f('account')}
                value={line.account || role('service sales')}
                error={refused(f('account'))}
                onChange={(v) => set({ account: Number(v) })}
                options={accounts.map((a) => ({ value: a.id ?? 0, name: a.name ?? '' }))}
                width={126}
              />
            )}
            <Unit label={`Unit, line ${n + 1}`} value={line.unit ?? ''} onChange={(unit) => set({ unit }, f('unit'))} />
            <Steps n={n} onStep={onStep} />
          </Under>
        )}
      </Cell>
      <Cell align="right">{passes ? '' : figure('quantity', 'quantity', 'Quantity', blank ? '' : '1')}</Cell>
      <Cell align="right">{passes ? '' : line.order ? show(line.unitPrice) : figure('unitPrice', 'price', 'Unit price')}</Cell>
      <Cell align="right">
        {!blank && !passes && (
          <LessField
            label={`Discount, line ${n + 1}`}
            field={f('discount')}
            percent={line.discountPercent ?? ''}
            amount={line.discount ?? ''}
            onChange={(discountPercent, discount) => set({ discountPercent, discount }, f('discount'))}
            error={refused(f('discount'))}
          />
        )}
      </Cell>
      <Cell>
        {behalf ? 'untaxed' : null}
        {!blank && !behalf && (
          <Choice
            onSheet
            label={`Tax, line ${n + 1}`}
            field={f('taxCode')}
            value={own.taxCode}
            error={refused(f('taxCode'))}
            onChange={(v) => set({ taxCode: Number(v) })}
            options={codes.map((c) => ({ value: c.id ?? 0, name: taxName(c) }))}
          />
        )}
      </Cell>
      <Cell align="right">{!blank && <Amount value={sum} />}</Cell>
    </TableRow>
  );
}

/** What the quantity is told in. */
function Unit({ label, value, onChange }: { label: string; value: string; onChange: (unit: string) => void }) {
  return (
    <What
      variant="standard"
      placeholder="unit"
      value={value}
      onChange={(e) => onChange(e.target.value)}
      sx={{ width: 58 }}
      slotProps={{ htmlInput: { 'aria-label': label, maxLength: 20, 'data-pass': '' } }}
    />
  );
}

const steps: { step: LineStep; sign: string; name: string; keys: string }[] = [
  { step: 'up', sign: '↑', name: 'Move up', keys: 'Alt+ArrowUp' },
  { step: 'down', sign: '↓', name: 'Move down', keys: 'Alt+ArrowDown' },
  { step: 'insert', sign: '+', name: 'Insert a line before', keys: 'Alt+Insert' },
  { step: 'copy', sign: 'copy', name: 'Copy', keys: 'Alt+C' },
  { step: 'drop', sign: '×', name: 'Take away', keys: 'Alt+Delete' },
];

function Steps({ n, onStep }: { n: number; onStep: (n: number, step: LineStep) => void }) {
  return (
    <>
      {steps.map((s) => (
        <Step
          key={s.step}
          tabIndex={-1}
          aria-label={`${s.name}, line ${n + 1}`}
          title={`${s.name} (${s.keys.replace('Arrow', '')})`}
          aria-keyshortcuts={s.keys}
          onClick={() => onStep(n, s.step)}
        >
          {s.sign}
        </Step>
      ))}
    </>
  );
}

interface WhatProps {
  n: number;
  line: InvoiceLineBody;
  refused: string;
  onText: (text: string) => void;
  onPick: (i: Article) => void;
}

/** What was done, in free words, or an article: Enter takes the only one that fits. */
function WhatField({ n, line, refused, onText, onPick }: WhatProps) {
  const articles = useArticles().data?.rows ?? [];
  const [open, setOpen] = useState(false);
  const text = line.text ?? '';
  const typed = text.trim().toLowerCase();
  const hits =
    typed.length < fewest
      ? []
      : articles
          .filter((a) => !a.inactive && a.name !== text && `${a.code} ${a.name}`.toLowerCase().includes(typed))
          .slice(0, most);
  const pick = (a: Article) => {
    setOpen(false);
    onPick(a);
  };
  return (
    <Autocomplete<Article, false, true, true>
      data-field={`lines[${n}].text`}
      freeSolo
      disableClearable
      forcePopupIcon={false}
      open={open && hits.length > 0}
      onOpen={() => setOpen(true)}
      onClose={() => setOpen(false)}
      options={hits}
      filterOptions={(o) => o}
      getOptionLabel={(o) => (typeof o === 'string' ? o : o.name)}
      renderOption={({ key, ...props }, o) => (
        <li key={key} {...props}>
          {o.code} · {o.name} · {show(o.price)}
        </li>
      )}
      inputValue={text}
      onInputChange={(_, v, reason) => {
        if (reason !== 'input') return;
        onText(v);
        setOpen(true);
      }}
      onChange={(_, o) => typeof o !== 'string' && pick(o)}
      onKeyDown={(e: React.KeyboardEvent & { defaultMuiPrevented?: boolean }) => {
        const walked = (e.target as HTMLElement).getAttribute('aria-activedescendant');
        if (e.key !== 'Enter' || e.ctrlKey || walked) return;
        e.defaultMuiPrevented = true;
        if (open && hits.length === 1) pick(hits[0]!);
        setOpen(false);
      }}
      renderInput={(params) => (
        <What
          {...params}
          variant="standard"
          placeholder={isBlank(line) ? 'Next line: type what you did, or an article' : ''}
          error={!!refused}
          helperText={refused || undefined}
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps.htmlInput, 'aria-label': `What, line ${n + 1}` },
          }}
        />
      )}
    />
  );
}
