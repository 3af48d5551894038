import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { api, data } from '../api/client';
import { newPaper } from '../papers/editing/kind';
import { Amount } from '../parts/Amount';
import { useBack, usePrimary } from '../parts/keys';
import { Failure, Key, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Notices } from '../parts/Notices';
import { OneStop } from '../parts/OneStop';
import { PositionRow } from '../parts/Position';
import { useToday } from '../parts/records';
import { isNil, kindName, show, showDay } from '../parts/show';
import { becomes, said } from './becomes';
import { useActing } from './useActing';

/** One line and several papers, or several lines and one: they are tied once they come to the same. */
export default function Several() {
  const id = Number(useParams().id);
  const [params, setParams] = useSearchParams();
  const numbers = (name: string) =>
    params
      .getAll(name)
      .flatMap((v) => v.split(',').map(Number))
      .filter(Boolean);
  const instead = params.get('instead') === '1' || undefined;
  const asked = { lines: numbers('lines'), movements: numbers('movements'), papers: numbers('papers'), instead };
  const { refusals, act } = useActing();
  const go = useNavigate();
  const today = useToday();
  useBack(useLeave(`/bank/${id}`));
  const found = useQuery({
    queryKey: ['bank', id, 'several', asked],
    queryFn: () => data(api.GET('/api/v1/banks/{id}/tying', { params: { path: { id }, query: asked } })),
    placeholderData: keepPreviousData,
  });
  const x = found.data;
  const choose = (movements: number[]) => {
    const next = new URLSearchParams();
    for (const l of asked.lines) next.append('lines', String(l));
    if (instead) next.set('instead', '1');
    if (movements.length > 0) next.set('movements', movements.join(','));
    setParams(next, { replace: true });
  };
  // The papers that were just made are chosen from now on by what they moved.
  const made = asked.papers.length > 0 && x && !found.isPlaceholderData ? x.chosen.join(',') : '';
  useEffect(() => {
    if (made) choose(made.split(',').map(Number));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [made]);
  const tie = async () => {
    const tied = await act(
      () => data(api.POST('/api/v1/ties', { body: { lines: asked.lines, movements: x!.chosen, instead } })),
      'Tied.',
    );
    if (tied) void go(`/bank/${id}`, { replace: true });
  };
  usePrimary(x ? () => void tie() : undefined);
  const line = x?.lines[0];
  const left = x?.left ?? '';
  // What was ticked is so at once; the sums follow.
  const ticked = asked.papers.length > 0 ? (x?.chosen ?? []) : asked.movements;
  const toggle = (id: number) => choose(ticked.includes(id) ? ticked.filter((c) => c !== id) : [...ticked, id]);
  return (
    <Page>
      <PageHead
        title={instead ? 'Explained by something else' : 'Several that belong together'}
        under={x?.lines.map(said).join(' + ')}
      >
        <Button variant="contained" disabled={!x?.agrees} onClick={() => void tie()}>
          Tie them <Key>Ctrl ↵</Key>
        </Button>
      </PageHead>
      <Notices refusals={refusals} />
      {found.isError && <Failure error={found.error} />}
      {x && (
        <>
          <PositionRow
            figures={[
              { name: x.lines.length === 1 ? 'The bank says' : `The bank says, in ${x.lines.length} lines`, value: x.lineSum },
              { name: 'Of what was posted, chosen', value: x.sum },
              { name: 'Left to explain', value: x.left, final: true },
            ]}
          />
          {x.movements.length === 0 && <p>Everything that was posted on this account is at the bank.</p>}
          {x.movements.length > 0 && (
            <OneStop>
              <Table aria-label="Posted, and not at the bank yet">
                <TableHead>
                  <TableRow>
                    <TableCell padding="checkbox" />
                    <TableCell>Date</TableCell>
                    <TableCell>Paper</TableCell>
                    <TableCell>Customer or supplier</TableCell>
                    <TableCell align="right">Amount</TableCell>
                  </TableRow>
                </TableHead>
                <TableBody>
                  {x.movements.map((m) => (
                    <TableRow
                      key={m.id}
                      data-row={`movement${m.id}`}
                      tabIndex={-1}
                      onKeyDown={(e) => {
                        if (e.target !== e.currentTarget || (e.key !== ' ' && e.key !== 'Enter') || e.ctrlKey) return;
                        e.preventDefault();
                        toggle(m.id);
                      }}
                    >
                      <TableCell padding="checkbox">
                        <Checkbox
                          size="small"
                          tabIndex={-1}
                          checked={ticked.includes(m.id)}
                          onChange={() => toggle(m.id)}
                          slotProps={{ input: { 'aria-label': `${m.number} belongs to it` } }}
                        />
                      </TableCell>
                      <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(m.day, today)}</TableCell>
                      <TableCell sx={{ whiteSpace: 'nowrap' }}>
                        <Link to={`/papers/${m.paperId}`}>{m.number}</Link> {kindName(m.kind)}
                      </TableCell>
                      <TableCell>{m.party || m.what}</TableCell>
                      <TableCell align="right">
                        <Amount value={m.amount} />
                      </TableCell>
                    </TableRow>
                  ))}
                </TableBody>
              </Table>
            </OneStop>
          )}
        </>
      )}
      <Margin>
        <ListNote title="Several that belong together">
          Choose what was posted until nothing is left to explain. What was not posted yet is made here, one paper after the
          other.
        </ListNote>
        {line && x && x.lines.length === 1 && !isNil(left) && !instead && (
          <section aria-label="Make what is left">
            <Typography variant="h2" sx={{ mt: 2 }}>
              For the {show(left)} that are left
            </Typography>
            {becomes
              .filter((b) => b.kind !== 'distribution' && (b.came === undefined || b.came !== left.startsWith('-')))
              .map((b) => (
                <Button
                  key={b.key}
                  size="small"
                  component={Link}
                  to={newPaper(b.kind, { bankLine: line.id, part: left, parts: x.chosen.join(',') })}
                  sx={{ display: 'flex', justifyContent: 'space-between', width: '100%', textAlign: 'left' }}
                >
                  {b.name}
                </Button>
              ))}
          </section>
        )}
      </Margin>
    </Page>
  );
}
