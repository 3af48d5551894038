import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, data, type LooseEnd } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { newPaper } from '../papers/editing/kind';
import { useEditing } from '../papers/editing/Editing';
import { Check, Chosen } from '../papers/editing/fields';
import { toNotices } from '../parts/Notices';
import { useRecord } from '../parts/record';
import { RecordForm } from '../parts/RecordForm';
import { FormGrid } from '../parts/RecordDialog';
import { useBanks, useDesk } from '../parts/records';
import { show, showDay } from '../parts/show';

type Gateway = components['schemas']['CardGateway'];

const Rows = styled('ul')({
  listStyle: 'none',
  margin: '4px 0 0',
  padding: 0,
  maxWidth: 860,
  '& li': { display: 'flex', gap: 14, alignItems: 'center', minHeight: 34 },
  '& .what': { flex: 1 },
});

/** Whether customers pay by card on the pages of links, and what of that waits. */
export function CardSetup() {
  const gateway = useQuery({
    queryKey: ['card-gateway'],
    queryFn: () => data(api.GET('/api/v1/card-gateway')),
  }).data;
  if (!gateway) return null;
  return (
    <>
      <GatewayForm key={gateway.version} gateway={gateway} />
      <Waiting />
    </>
  );
}

function GatewayForm({ gateway: g }: { gateway: Gateway }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const banks = (useBanks().data?.rows ?? []).filter((b) => b.takings && !b.inactive);
  const record = useRecord<Gateway>({ ...g, way: g.way ?? '', bank: g.bank || banks[0]?.id || 0 }, async (body) => {
    const saved = await data(api.PUT('/api/v1/card-gateway', { body }));
    client.setQueryData(['card-gateway'], saved);
    say('Saved.');
    await client.invalidateQueries();
  });
  return (
    <RecordForm record={record}>
      <Fields gateway={g} />
    </RecordForm>
  );
}

function Fields({ gateway: g }: { gateway: Gateway }) {
  const { body } = useEditing<Gateway>();
  const banks = (useBanks().data?.rows ?? []).filter((b) => b.takings && (!b.inactive || b.id === body.bank));
  return (
    <FormGrid>
      <Chosen
        className="wide"
        name="way"
        label="On the page of a link, customers"
        options={[
          { value: '', name: 'do not pay by card' },
          ...(g.standIn || g.way === 'stand-in'
            ? [{ value: 'stand-in', name: 'pay by made-up cards on this machine, to try things out' }]
            : []),
        ]}
      />
      {body.way === 'stand-in' && g.standIn && (
        <Typography className="wide">
          No money moves. What was paid there is looked at, and paid out, at{' '}
          <a href={g.standIn} target="_blank" rel="noreferrer">
            the gateway
          </a>
          .
        </Typography>
      )}
      {!!body.way && (
        <>
          <Chosen
            name="bank"
            label="What is paid waits in"
            options={banks.map((b) => ({ value: b.id ?? 0, name: b.name ?? '' }))}
          />
          <Check name="parts" label="They may pay a part" />
        </>
      )}
    </FormGrid>
  );
}

/** What was paid by card and stands on the Desk: it could not be recorded, or was not taken yet. */
function Waiting() {
  const groups = useDesk().data?.groups ?? [];
  const rowsOf = (group: string) => groups.find((g) => g.group === group)?.rows ?? [];
  const unkept = rowsOf('card payment');
  const payouts = rowsOf('card payout');
  return (
    <>
      {unkept.length > 0 && (
        <section aria-label="Paid by card, and not in the books">
          <Typography variant="h2" sx={{ mt: 3 }}>
            Paid by card, and not in the books
          </Typography>
          <Rows>
            {unkept.map((l) => (
              <Unkept key={l.itemId} end={l} />
            ))}
          </Rows>
        </section>
      )}
      {payouts.length > 0 && (
        <section aria-label="Paid out, and not taken yet">
          <Typography variant="h2" sx={{ mt: 3 }}>
            Paid out, and not taken yet
          </Typography>
          <Rows>
            {payouts.map((l) => (
              <ToldPayout key={l.itemId} end={l} />
            ))}
          </Rows>
        </section>
      )}
    </>
  );
}

/** Does something to a row, and says why it could not. */
function useDoing(act: () => Promise<unknown>, done: string) {
  const client = useQueryClient();
  const say = useSnackbar();
  const [wrong, setWrong] = useState('');
  const run = async () => {
    try {
      await act();
      say(done);
    } catch (e) {
      setWrong(toNotices(e)[0]?.text ?? '');
    }
    await client.invalidateQueries();
  };
  return { run: () => void run(), wrong };
}

function Unkept({ end: l }: { end: LooseEnd }) {
  const { run, wrong } = useDoing(
    () => data(api.POST('/api/v1/card-payments/{id}/record', { params: { path: { id: l.itemId } } })),
    'Recorded.',
  );
  return (
    <li>
      <span className="what">
        <Link to={`/papers/${l.paperId}`}>{l.number}</Link> {l.customer}, {showDay(l.day)}: <b>{show(l.open)}</b>.{' '}
        <span role="status">{wrong || l.reason}</span>
      </span>
      <Button onClick={run}>Record it</Button>
    </li>
  );
}

function ToldPayout({ end: l }: { end: LooseEnd }) {
  const { run, wrong } = useDoing(
    () => data(api.POST('/api/v1/card-payouts/{id}/away', { params: { path: { id: l.itemId } } })),
    'Put away.',
  );
  return (
    <li>
      <span className="what">
        {l.number}, {showDay(l.day)}: <b>{show(l.open)}</b> <span role="status">{wrong}</span>
      </span>
      <Button component={Link} to={newPaper('card payout', { told: l.itemId })}>
        Take it
      </Button>
      <Button onClick={run}>Put it away</Button>
    </li>
  );
}
