import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import type { BillBody, BoughtLineBody } from '../api/client';
import { useArticles, useFirm } from '../parts/records';
import { useEditing } from './editing/Editing';
import { Check, Choice, Figure, Text } from './editing/fields';
import { AccountField, AnyJobField, EntryLines } from './Lines';
import { SerialsField } from './SerialsField';
import { TaxCodeField } from './TaxCodeField';

const More = styled('div')(({ theme }) => ({
  display: 'flex',
  flexWrap: 'wrap',
  gap: '2px 14px',
  alignItems: 'center',
  fontSize: 13.5,
  color: theme.vars!.palette.text.secondary,
  '& label': { display: 'flex', alignItems: 'baseline', gap: 6 },
  '& .MuiFormControlLabel-label': { fontSize: 13.5 },
}));

export const treatments = [
  { value: '', name: 'not passed on' },
  { value: 'supply', name: 'as our own supply' },
  { value: 'behalf', name: 'on their behalf' },
];

type Line = BoughtLineBody;

/** A line that says nothing yet. */
export const freshLine = (taxCode: number): Line => ({ text: '', account: 0, net: '', taxCode });

/** What was bought or ordered, line by line: to an account or an article, for a job, passed on or not. */
export function BoughtLines({ label, ordering }: { label: string; ordering?: boolean }) {
  const { body, change, effect, refused } = useEditing<Pick<BillBody, 'lines'>>();
  const taxCode = useFirm().data?.taxCode ?? 0;
  const articles = (useArticles().data?.rows ?? []).filter((a) => !a.inactive);
  const [open, setOpen] = useState<number[]>([]);
  // What is bought next is most often for the same job.
  const fresh = () => ({ ...freshLine(taxCode), job: body.lines?.at(-1)?.job });
  const stocked = (l: Line) => !l.job && !!articles.find((a) => a.id === l.article)?.stocked;
  return (
    <EntryLines<Line>
      label={label}
      heads={[
        { title: 'What' },
        { title: 'Account', width: 136 },
        { title: 'Job', width: 112 },
        { title: 'Tax', width: 108 },
        { title: 'Net', figure: true, width: 96 },
      ]}
      lines={body.lines ?? []}
      fresh={fresh}
      pasted={{
        kinds: ['text', 'account', 'amount'],
        line: ([text, account, net]) => ({ ...fresh(), text, account: Number(account || 0), net }),
      }}
      onChange={(to) => change((now) => ({ lines: to(now.lines ?? []) }))}
      below={(l, n, set) => {
        const f = (name: string) => `lines[${n}].${name}`;
        const shown = open.includes(n) || !!(l.article || l.quantity || l.unitPrice || l.passOn || l.joined);
        const article = articles.find((a) => a.id === l.article);
        return (
          <More data-pass={l.article ? undefined : ''}>
            {l.job ? (
              <Choice
                onSheet
                label={`Passed on, line ${n + 1}`}
                field={f('passOn')}
                value={l.passOn ?? ''}
                error={refused(f('passOn'))}
                onChange={(v) =>
                  set({
                    passOn: v as Line['passOn'],
                    markup: v === 'supply' ? l.markup : '',
                    joined: v === 'behalf' ? false : l.joined,
                  })
                }
                options={treatments}
                width={148}
              />
            ) : null}
            {l.passOn === 'supply' && (
              <label>
                markup %
                <Figure
                  kind="percent"
                  label={`Markup, line ${n + 1}`}
                  name={f('markup')}
                  placeholder="the job’s"
                  onSheet
                  width={70}
                />
              </label>
            )}
            {shown && (
              <>
                <Choice
                  onSheet
                  label={`Article, line ${n + 1}`}
                  field={f('article')}
                  value={l.article ?? 0}
                  error={refused(f('article'))}
                  onChange={(v) => {
                    const a = articles.find((x) => x.id === Number(v));
                    set({
                      article: Number(v),
                      text: l.text || a?.name,
                      unit: a?.unit ?? l.unit,
                      taxCode: a?.taxCode || l.taxCode,
                    });
                  }}
                  options={[
                    { value: 0, name: 'no article' },
                    ...articles.map((a) => ({ value: a.id ?? 0, name: `${a.code} ${a.name}` })),
                  ]}
                  width={150}
                />
                <label>
                  quantity
                  <Figure
                    kind="quantity"
                    label={`Quantity, line ${n + 1}`}
                    name={f('quantity')}
                    placeholder="1"
                    onSheet
                    width={58}
                  />
                </label>
                <label>
                  price
                  <Figure kind="price" label={`Unit price, line ${n + 1}`} name={f('unitPrice')} onSheet width={76} />
                </label>
                <label>
                  less %
                  <Figure kind="percent" label={`Discount, line ${n + 1}`} name={f('discountPercent')} onSheet width={48} />
                </label>
                {!ordering && l.passOn !== 'behalf' && <Check name={f('joined')} label="tax joins the cost" />}
                {!ordering && article?.serial && (
                  <SerialsField name={f('serials')} label={`Numbers of the pieces, line ${n + 1}`} />
                )}
              </>
            )}
            {!shown && (
              <Button size="small" sx={{ p: '0 2px', minHeight: 24, fontSize: 13 }} onClick={() => setOpen((o) => [...o, n])}>
                + article, quantity
              </Button>
            )}
          </More>
        );
      }}
    >
      {(l, n, set) => [
        <Text key="text" variant="standard" fullWidth name={`lines[${n}].text`} label={`What, line ${n + 1}`} />,
        stocked(l) ? (
          'Stock'
        ) : l.passOn === 'behalf' ? (
          'Recoverable'
        ) : (
          <AccountField
            key="account"
            label={`Account, line ${n + 1}`}
            field={`lines[${n}].account`}
            value={l.account ?? 0}
            onPick={(account) => set({ account })}
            error={refused(`lines[${n}].account`)}
            types={['expense', 'asset']}
            offered={effect?.paper?.lines?.[n]?.account}
          />
        ),
        <AnyJobField
          key="job"
          label={`Job, line ${n + 1}`}
          field={`lines[${n}].job`}
          value={l.job ?? 0}
          onPick={(job) => set({ job, ...(job ? {} : { passOn: '' as const, markup: '' }) })}
          error={refused(`lines[${n}].job`)}
        />,
        <TaxCodeField key="tax" label={`Tax, line ${n + 1}`} name={`lines[${n}].taxCode`} value={l.taxCode ?? 0} onSheet />,
        <Figure
          key="net"
          kind="amount"
          label={`Net, line ${n + 1}`}
          name={`lines[${n}].net`}
          offered={l.unitPrice ? effect?.paper?.lines?.[n]?.amount : ''}
          onSheet
        />,
      ]}
    </EntryLines>
  );
}
