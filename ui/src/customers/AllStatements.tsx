import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { api, data, type Statement } from '../api/client';
import { MailMany } from '../outgoing/MailMany';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { MakingBar } from '../parts/MakingBar';
import { Margin } from '../parts/Margin';
import { Sheets } from '../parts/Sheet';
import { useMaking } from '../parts/useMaking';
import { SpanFields, StatementsPdf, useSpan } from './StatementPage';
import { StatementSheet } from './StatementSheet';

const Span = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });

/** Statements for all customers who owe something or for whom we hold something, one after another. */
export default function AllStatements() {
  const span = useSpan();
  const { from, through, open } = span;
  const query = { from, through, open: open || undefined };
  const making = useMaking<Statement>(
    async () => (await data(api.GET('/api/v1/statements', { params: { query } }))).rows,
    (id) => data(api.GET('/api/v1/customers/{id}/statement', { params: { path: { id }, query } })),
  );
  const { made, now } = making;
  useBack(useLeave('/customers'));
  return (
    <Page>
      <PageHead
        title="Statements for all"
        under={made.length ? `${made.length} of ${making.of}` : 'Everybody who owes something, or for whom we hold something'}
      >
        <Span>
          <SpanFields span={span} begun={made[0]?.from} />
          {now ? (
            <Button variant="outlined" onClick={making.stop}>
              Stop
            </Button>
          ) : (
            <Button variant={made.length ? 'outlined' : 'contained'} onClick={() => void making.run()}>
              {made.length ? 'Make them again' : 'Make them'}
            </Button>
          )}
          {made.length > 0 && made.length <= 500 && !now && (
            <>
              <StatementsPdf customers={made.map((s) => s.customerId)} span={span} />
              <MailMany customers={made.map((s) => s.customerId)} statement={query} />
            </>
          )}
          <Button variant="contained" disabled={!made.length || !!now} onClick={() => window.print()}>
            Print {made.length || ''}
          </Button>
        </Span>
      </PageHead>
      <MakingBar making={making} what="Statements made" />
      {!now && making.nothing && (
        <Typography role="status">
          {open
            ? 'Nobody owed anything on that day, and nothing was held: there is no statement to make.'
            : 'Nothing happened in that span, and nobody owed anything: there is no statement to make.'}
        </Typography>
      )}
      {!now && !making.nothing && made.length === 0 && (
        <Empty>The statements will lie here one under another, each on a page of its own.</Empty>
      )}
      <Sheets>
        {made.map((s, i) => (
          <StatementSheet key={i} statement={s} />
        ))}
      </Sheets>
      <Margin>
        <ListNote title="Statements for all">They can be stopped at any time: what was made until then can be printed.</ListNote>
      </Margin>
    </Page>
  );
}
