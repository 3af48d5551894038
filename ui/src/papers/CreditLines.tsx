import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { Fragment, useState } from 'react';
import type { Creditable, CreditBody, CreditLineBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { isNil, show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useEditing } from './editing/Editing';
import { Figure } from './editing/fields';
import { AccountField } from './Lines';
import { SerialsField } from './SerialsField';
import { TaxCodeField } from './TaxCodeField';

type LineFigure = 'quantity' | 'amount' | 'price';

/** How much of each line is credited: a quantity, an amount or a new price. */
export function CreditLines({ of }: { of: Creditable }) {
  const { body, change, refused } = useEditing<CreditBody>();
  const lines = body.lines ?? [];
  const goods = of.lines.some((l) => l.stocked);
  const [open, setOpen] = useState<number[]>([]);
  const set = (position: number, to: CreditLineBody | null) =>
    change((now) => {
      const rest = (now.lines ?? []).filter((l) => l.position !== position);
      return { lines: to ? [...rest, to].sort((a, b) => a.position - b.position) : rest };
    });
  return (
    <Table aria-label="Lines of the invoice" sx={{ mt: 2 }} data-field="lines">
      <TableHead>
        <TableRow>
          <TableCell>What</TableCell>
          <TableCell align="right">Left</TableCell>
          <TableCell align="right">{of.includes ? 'Left with tax' : 'Left, net'}</TableCell>
          <TableCell align="right">Quantity back</TableCell>
          <TableCell align="right">or an amount</TableCell>
          <TableCell align="right">or a new price</TableCell>
          {goods && <TableCell align="right">To stock</TableCell>}
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {of.lines.map((l) => {
          const at = lines.findIndex((x) => x.position === l.position);
          const line = lines[at];
          const field = (name: LineFigure) => (at < 0 ? `lines.${l.position}.${name}` : `lines[${at}].${name}`);
          const figure = (name: LineFigure, kind: 'quantity' | 'amount', label: string) => (
            <TableCell align="right" sx={{ width: 104 }}>
              {!isNil(l.left) && !(l.takes && name !== 'amount') && (
                <UnderstoodField
                  kind={kind}
                  label={`${label} of ${l.text}`}
                  field={field(name)}
                  value={line?.[name] ?? ''}
                  onChange={(v) =>
                    set(
                      l.position,
                      v
                        ? {
                            position: l.position,
                            [name]: v,
                            ...(name === 'quantity' ? { back: line?.back, serials: line?.serials } : {}),
                            account: line?.account,
                            taxCode: line?.taxCode,
                            tax: line?.tax,
                          }
                        : null,
                    )
                  }
                  onSheet
                  error={at < 0 ? '' : refused(field(name))}
                />
              )}
            </TableCell>
          );
          const shown = line && !l.fixed && (open.includes(l.position) || !!line.account || !!line.taxCode || !!line.tax);
          return (
            <Fragment key={l.position}>
              <TableRow sx={shown ? { '& > td': { borderBottom: 0 } } : undefined}>
                <TableCell>
                  {l.text}
                  {line && !l.fixed && !shown && (
                    <div>
                      <Button
                        size="small"
                        aria-label={`Account and tax of ${l.text}`}
                        onClick={() => setOpen([...open, l.position])}
                      >
                        Account and tax
                      </Button>
                    </div>
                  )}
                  {l.numbered && line?.back && (
                    <SerialsField name={`lines[${at}].serials`} label={`Numbers of the pieces of ${l.text} that go to stock`} />
                  )}
                  {l.givenBack && line?.amount !== l.givenBack && (
                    <div>
                      <Button size="small" onClick={() => set(l.position, { position: l.position, amount: l.givenBack })}>
                        {show(l.givenBack)} was given back by the supplier: take it
                      </Button>
                    </div>
                  )}
                </TableCell>
                <TableCell align="right">{l.takes ? '' : [show(l.quantity), l.unit].filter(Boolean).join(' ')}</TableCell>
                <TableCell align="right">
                  <Amount value={l.left} />
                </TableCell>
                {figure('quantity', 'quantity', 'Quantity back')}
                {figure('amount', 'amount', 'Amount')}
                {figure('price', 'quantity', 'New price')}
                {goods && (
                  <TableCell align="right" sx={{ width: 96 }}>
                    {l.stocked && line && !line.amount && !line.price && (
                      <UnderstoodField
                        kind="quantity"
                        label={`To stock of ${l.text}`}
                        field={`lines[${at}].back`}
                        value={line.back ?? ''}
                        placeholder={`of ${show(l.out)}`}
                        onChange={(back) => set(l.position, { ...line, back })}
                        onSheet
                        error={refused(`lines[${at}].back`)}
                      />
                    )}
                  </TableCell>
                )}
                <TableCell align="right" sx={{ width: 56 }}>
                  {isNil(l.left) ? (
                    'nothing left'
                  ) : (
                    <Button
                      size="small"
                      variant={line && !line.quantity && !line.amount && !line.price ? 'contained' : 'outlined'}
                      aria-label={`All of ${l.text}`}
                      aria-pressed={!!line && !line.quantity && !line.amount && !line.price}
                      onClick={() =>
                        set(l.position, line && !line.quantity && !line.amount && !line.price ? null : { position: l.position })
                      }
                    >
                      All
                    </Button>
                  )}
                </TableCell>
              </TableRow>
              {shown && (
                <TableRow>
                  <TableCell colSpan={goods ? 8 : 7} sx={{ pt: 0 }}>
                    <FormGrid>
                      <label>
                        Account
                        <AccountField
                          label={`Account of ${l.text}`}
                          field={`lines[${at}].account`}
                          value={line.account || l.account}
                          onPick={(account) => set(l.position, { ...line, account: account === l.account ? 0 : account })}
                          error={refused(`lines[${at}].account`)}
                          types={['income', 'contra income', 'expense']}
                        />
                      </label>
                      <TaxCodeField
                        label={`Tax code of ${l.text}`}
                        name={`lines[${at}].taxCode`}
                        none="as it was billed"
                        value={line.taxCode ?? 0}
                      />
                      <Figure
                        kind="amount"
                        label={`Tax of ${l.text}`}
                        name={`lines[${at}].tax`}
                        placeholder={`its share of ${show(l.taxLeft)}`}
                      />
                    </FormGrid>
                  </TableCell>
                </TableRow>
              )}
            </Fragment>
          );
        })}
      </TableBody>
    </Table>
  );
}
