import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, data, type WriteOffBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { UnderstoodField } from '../parts/UnderstoodField';
import { PaperEditor, type Editing } from './PaperEditor';
import { PartyFields } from './PartyFields';
import { usePreset } from './RefundEditor';
import { Shares } from './Shares';
import { useBench } from './useBench';

/** They will not pay: a debt is given up, whole or in part, or many small ones. */
export function WriteOffEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  const small = params.has('small');
  return (
    <PaperEditor<WriteOffBody>
      kind="write-off"
      path="/api/v1/write-offs"
      id={id}
      title="Write-off"
      lead={
        small
          ? 'Small balances of many customers, given up in one go. Each customer gets a paper.'
          : 'A debt that is given up, in part or in whole, with its reason.'
      }
      hint="Choose what is given up: the entry, and what of the tax comes back, is shown here before anything is written."
      initial={{
        customer: small ? 0 : Number(params.get('customer') ?? 0),
        day: today,
        reason: small ? 'Small balance' : '',
        relief: true,
        items: [],
      }}
      begun={(b) => (b.items ?? []).length > 0}
      quiet={(b) => ((b.items ?? []).length ? [] : ['items', 'reason'])}
      then={(b) => (paper) => (b.customer ? `/customers/${b.customer}` : `/papers/${paper}`)}
    >
      {(e) => (
        <>
          <FormGrid>
            {!small && (
              <PartyFields
                customer={e.body.customer ?? 0}
                job={0}
                onChange={(customer) => e.change((now) => ({ customer, items: customer === now.customer ? now.items : [] }))}
                refused={e.refused}
                autoFocus
              >
                {(customer) => <div className="wide">{customer}</div>}
              </PartyFields>
            )}
            <TextField
              label="Why is it given up?"
              data-field="reason"
              value={e.body.reason ?? ''}
              onChange={(x) => e.change({ reason: x.target.value })}
              error={e.refused('reason')}
              slotProps={{ htmlInput: { 'data-walk': '' } }}
            />
            <UnderstoodField
              kind="day"
              label="Day"
              field="day"
              value={e.body.day ?? ''}
              onChange={(day) => e.change({ day })}
              error={e.refused('day')}
            />
            <FormControlLabel
              className="wide"
              control={
                <Checkbox size="small" checked={!!e.body.relief} onChange={(x) => e.change({ relief: x.target.checked })} />
              }
              label="The tax inside comes back (relief for bad debts)"
            />
          </FormGrid>
          {small ? <Small {...e} /> : <OfCustomer {...e} item={Number(params.get('item') ?? 0)} />}
        </>
      )}
    </PaperEditor>
  );
}

function OfCustomer({ body, change, refused, item }: Editing<WriteOffBody> & { item: number }) {
  const [find, setFind] = useState('');
  const bench = useBench(body.customer ?? 0, { find, pinned: [item, ...(body.items ?? []).map((s) => s.item)] });
  const owed = [...(bench?.owed ?? []), ...(bench?.keptBack ?? [])];
  usePreset(owed, item, (i) => change({ items: [{ item: i.id, amount: i.open }] }));
  if (!body.customer) return null;
  return (
    <Shares
      title="Given up"
      verb="Give up"
      side="items"
      items={owed}
      count={(bench?.counts?.[0] ?? 0) + (bench?.counts?.[2] ?? 0)}
      onFind={setFind}
      shares={body.items ?? []}
      onChange={(to) => change((now) => ({ items: to(now.items ?? []) }))}
      refused={refused}
      nothing="This customer owes nothing and keeps nothing back."
    />
  );
}

/** All balances under an amount that one chooses, shown before they are given up. */
function Small({ body, change, refused }: Editing<WriteOffBody>) {
  const [limit, setLimit] = useState('');
  const small = useQuery({
    queryKey: ['small', limit],
    queryFn: () => data(api.GET('/api/v1/small-balances', { params: { query: { limit: limit || undefined } } })),
  }).data;
  const items = small?.rows ?? [];
  return (
    <>
      <FormGrid sx={{ mt: 2, alignItems: 'center' }}>
        <UnderstoodField
          kind="amount"
          label="All balances up to (empty: the firm’s limit)"
          field="limit"
          value={limit}
          onChange={setLimit}
        />
        <Button
          variant="outlined"
          disabled={items.length === 0}
          onClick={() => change({ items: items.map((i) => ({ item: i.id, amount: i.open })) })}
        >
          Take all {items.length}
        </Button>
      </FormGrid>
      <Shares
        title="Small balances"
        verb="Give up"
        side="items"
        items={items}
        shares={body.items ?? []}
        onChange={(to) => change((now) => ({ items: to(now.items ?? []) }))}
        refused={refused}
        nothing="No balance is as small as that."
        withCustomer
      />
    </>
  );
}
