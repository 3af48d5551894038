import { useMemo } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { BackRow } from '../api/client';
import { Amount } from '../parts/Amount';
import { Empty } from '../parts/Layout';
import type { Active } from '../parts/ListFilters';
import { ListNote } from '../parts/ListNote';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { useArticles, useToday } from '../parts/records';
import { isNil, show, showDay } from '../parts/show';

const pieces = (r: BackRow, of: string) => (of && !isNil(of) ? [show(of), r.unit].filter(Boolean).join(' ') : '');

const columnsOn = (today: string): Column<BackRow>[] => [
  { id: 'day', title: 'Date', cell: (r) => showDay(r.day, today), share: 9 },
  { id: 'number', title: 'Number', cell: (r) => r.number },
  { id: 'party', title: 'Customer', cell: (r) => r.customer, share: 16 },
  { id: 'of', title: 'Of', cell: (r) => r.of, hidden: true },
  { id: 'article', title: 'Article', cell: (r) => r.article, hidden: true },
  { id: 'text', title: 'What', cell: (r) => r.text, wide: true },
  { id: 'quantity', title: 'Quantity', cell: (r) => pieces(r, r.quantity), figure: true, share: 12 },
  { id: 'back', title: 'To stock', cell: (r) => pieces(r, r.toStock), figure: true },
  { id: 'scrapped', title: 'Scrapped', cell: (r) => pieces(r, r.scrapped), figure: true, sort: false },
  { id: 'serials', title: 'Numbers', cell: (r) => r.serials, sort: false, hidden: true },
  { id: 'cost', title: 'Cost', cell: (r) => <Amount value={r.cost} quietNil />, figure: true },
  { id: 'credited', title: 'Credited', cell: (r) => <Amount value={r.credited} quietNil />, figure: true },
  { id: 'reason', title: 'Reason', cell: (r) => r.reason, hidden: true },
  { id: 'reference', title: 'Reference', cell: (r) => r.reference, hidden: true },
];

const where = [
  { value: '', name: 'All' },
  { value: 'stock', name: 'To stock' },
  { value: 'scrap', name: 'Scrapped' },
];

/** The register of returns: what came back, line by line, and where it went. */
export function BackList() {
  const go = useNavigate();
  const [params] = useSearchParams();
  const today = useToday();
  const columns = useMemo(() => columnsOn(today), [today]);
  const articles = useArticles().data?.rows ?? [];
  const article = articles.find((a) => a.id === Number(params.get('article')));
  const active: (Active | false | null)[] = [
    params.has('article') && { param: 'article', name: `Article: ${article?.name ?? '…'}` },
    !!params.get('q') && { param: 'q', name: `“${params.get('q')}”` },
    params.has('from') && { param: 'from', name: `from ${showDay(params.get('from')!)}` },
    params.has('to') && { param: 'to', name: `through ${showDay(params.get('to')!)}` },
  ];
  return (
    <>
      <ListTable<BackRow>
        id="returned-goods"
        path="/api/v1/returned-goods"
        columns={columns}
        filters={{ param: 'where', options: where }}
        search="What, article, customer, reference"
        active={active.filter((a) => !!a)}
        to={(r) => `/papers/${r.paper}`}
        empty={
          <Empty action="Return" onAction={() => go('/papers/new/return')}>
            Here will be all goods that came back: what was billed by a credit note of its invoice, what was not billed yet by a
            return of its order.
          </Empty>
        }
      />
      <Margin>
        <ListNote title="What came back">
          Goods come back to stock at the cost at which they left; what is scrapped moves no stock. Returns of what was not billed
          credit nothing.
        </ListNote>
      </Margin>
    </>
  );
}
