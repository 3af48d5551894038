import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useContext } from 'react';
import { api, data, type StockCountBody, type StockLineBody, type StockUseBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { RecordPicker } from '../parts/RecordPicker';
import { findJobs, useArticles, useJob } from '../parts/records';
import { show } from '../parts/show';
import { EditingPlace, useEditing } from './editing/Editing';
import { Check, Choice, Figure, Text } from './editing/fields';
import { EntryLines } from './Lines';
import { SerialsField } from './SerialsField';

type Body = StockUseBody & StockCountBody;

/** Goods that are used on a job, or what was counted. */
export default function StockFields() {
  const { body, change, effect, refused } = useEditing<Body>();
  const counts = useContext(EditingPlace)!.kind === 'stock count';
  const job = useJob(body.job ?? 0).data;
  const articles = (useArticles().data?.rows ?? []).filter((a) => a.stocked && !a.inactive);
  const there =
    useQuery({
      queryKey: ['stock', 'all'],
      queryFn: () => data(api.GET('/api/v1/stock', { params: { query: { limit: 500 } } })),
      placeholderData: keepPreviousData,
    }).data?.rows ?? [];
  const fresh = (): StockLineBody => ({ article: 0, quantity: '' });
  return (
    <>
      <FormGrid>
        {!counts && (
          <RecordPicker
            label="Job"
            field="job"
            chosen={body.job ?? 0}
            value={body.job && job?.id === body.job ? { id: job.id, label: `${job.number} ${job.name}` } : null}
            onPick={(o) => change({ job: o?.id ?? 0 })}
            find={(text) => findJobs(text, 0)}
            findKey={['any']}
            error={refused('job')}
            placeholder="On which job?"
          />
        )}
        <Figure kind="day" label="Date" name="day" />
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        <Text label="Note" name="note" className="wide" multiline optional />
        {counts && <Check name="opening" className="wide" label="It was there before: against opening balances" />}
      </FormGrid>
      <EntryLines<StockLineBody>
        label={counts ? 'What was counted' : 'What was used'}
        heads={[
          { title: 'Article' },
          { title: 'In stock', figure: true, width: 110 },
          { title: counts ? 'Counted' : 'Used', figure: true, width: 110 },
          ...(counts ? [{ title: 'Cost of a piece', figure: true, width: 130 }] : []),
          { title: counts ? 'Difference' : 'Worth', figure: true, width: 110 },
        ]}
        lines={body.lines ?? []}
        fresh={fresh}
        pasted={{
          kinds: ['text', 'quantity', 'price'],
          line: ([code, quantity, cost]) => ({
            article: articles.find((a) => a.code.toLowerCase() === (code ?? '').trim().toLowerCase())?.id ?? 0,
            quantity,
            ...(counts ? { cost } : {}),
          }),
        }}
        onChange={(to) => change((now) => ({ lines: to(now.lines ?? []) }))}
        below={(l, n) =>
          articles.find((a) => a.id === l.article)?.serial ? (
            <SerialsField name={`lines[${n}].serials`} label={`Numbers of the pieces, line ${n + 1}`} />
          ) : null
        }
      >
        {(l, n, set) => {
          const stock = there.find((s) => s.id === l.article);
          return [
            <Choice
              key="article"
              onSheet
              label={`Article, line ${n + 1}`}
              field={`lines[${n}].article`}
              value={l.article ?? 0}
              onChange={(v) => set({ article: Number(v) })}
              error={refused(`lines[${n}].article`)}
              options={[
                { value: 0, name: 'Which article?' },
                ...articles.map((a) => ({ value: a.id ?? 0, name: `${a.code} ${a.name}` })),
              ]}
            />,
            <div key="there" style={{ textAlign: 'right' }}>
              {stock ? `${show(stock.quantity)} ${stock.unit}` : ''}
            </div>,
            <Figure
              key="quantity"
              kind="quantity"
              label={`${counts ? 'Counted' : 'Used'}, line ${n + 1}`}
              name={`lines[${n}].quantity`}
              onSheet
            />,
            ...(counts
              ? [
                  <Figure
                    key="cost"
                    kind="price"
                    label={`Cost of a piece, line ${n + 1}`}
                    name={`lines[${n}].cost`}
                    placeholder={stock?.average}
                    onSheet
                  />,
                ]
              : []),
            <div key="sum" style={{ textAlign: 'right' }}>
              {show(effect?.paper?.lines?.[n]?.amount)}
            </div>,
          ];
        }}
      </EntryLines>
    </>
  );
}
