import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, data, type Statement } from '../api/client';
import { useBack } from '../parts/keys';
import { Empty, Failure, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { isNil } from '../parts/show';
import { SpanFields, useSpan } from './StatementPage';
import { StatementSheet } from './StatementSheet';

const Sheets = styled('div')({ display: 'grid', gap: 18, '& article': { breakAfter: 'page' } });
const Span = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });

async function customersOwing(): Promise<{ id: number; name: string }[]> {
  const all: { id: number; name: string }[] = [];
  let after: number | undefined;
  do {
    const page = await data(api.GET('/api/v1/customers', { params: { query: { limit: 500, after } } }));
    all.push(...page.rows.filter((c) => !isNil(c.owes) || !isNil(c.held)).map((c) => ({ id: c.id, name: c.name })));
    after = page.next || undefined;
  } while (after);
  return all;
}

/** Statements for all customers who owe something or for whom we hold something, one after another. */
export default function AllStatements() {
  const span = useSpan();
  const { from, through, open } = span;
  const [made, setMade] = useState<Statement[]>([]);
  const [of, setOf] = useState(0);
  const [now, setNow] = useState('');
  const [error, setError] = useState<unknown>(null);
  const stop = useRef(false);
  const go = useNavigate();
  useBack(() => go(-1));
  const run = async () => {
    stop.current = false;
    setMade([]);
    setError(null);
    try {
      setNow('customers');
      const all = await customersOwing();
      setOf(all.length);
      const done: Statement[] = [];
      for (const c of all) {
        if (stop.current) break;
        setNow(c.name);
        const query = { from, through, open: open || undefined };
        done.push(await data(api.GET('/api/v1/customers/{id}/statement', { params: { path: { id: c.id }, query } })));
        setMade([...done]);
      }
    } catch (e) {
      setError(e);
    }
    setNow('');
  };
  return (
    <Page>
      <PageHead
        title="Statements for all"
        under={made.length ? `${made.length} of ${of}` : 'Everybody who owes something, or for whom we hold something'}
      >
        <Span>
          <SpanFields span={span} />
          {now ? (
            <Button variant="outlined" onClick={() => (stop.current = true)}>
              Stop
            </Button>
          ) : (
            <Button variant={made.length ? 'outlined' : 'contained'} onClick={() => void run()}>
              {made.length ? 'Make them anew' : 'Make them'}
            </Button>
          )}
          <Button variant="contained" disabled={!made.length || !!now} onClick={() => window.print()}>
            Print {made.length || ''}
          </Button>
        </Span>
      </PageHead>
      <div className="no-print" style={{ minHeight: 30 }} aria-live="polite">
        {now && (
          <>
            <LinearProgress variant="determinate" value={of ? (made.length / of) * 100 : 0} aria-label="Statements made" />
            <Typography variant="body2" color="textSecondary">
              {now}
            </Typography>
          </>
        )}
      </div>
      {error !== null && <Failure error={error} />}
      {!now && made.length === 0 && <Empty>The statements will lie here one under another, each on a page of its own.</Empty>}
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
