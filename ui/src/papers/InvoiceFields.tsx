import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { useContext } from 'react';
import { flushSync } from 'react-dom';
import { Link } from 'react-router';
import { api, data, type InvoiceBody } from '../api/client';
import { useBanks, useCustomer, useFirm, useTerms } from '../parts/records';
import { AddressKept } from './AddressKept';
import { Lines, Two } from '../parts/Sheet';
import { EditingPlace, usePaperForm } from './editing/Editing';
import { Choice, Figure, Text } from './editing/fields';
import { useAgain, useValue } from './editing/useForm';
import { formNames } from './formNames';
import { PaperCurrency } from './CurrencyFields';
import { FromCosts } from './FromCosts';
import { FromOrders } from './FromOrders';
import { InvoiceFoot } from './InvoiceFoot';
import { InvoiceLines } from './InvoiceLines';
import { PartyFields } from './PartyFields';
import { useUsed } from './useUsed';
import { Facts, Label, SheetHead, small } from './SheetHead';

const Due = styled('div')({ display: 'flex', gap: 6, alignItems: 'baseline' });

/** The invoice on its sheet. Its parts follow what they show, so that a long one stays quick. */
export default function InvoiceFields() {
  const { command, refused } = useContext(EditingPlace)!;
  const number = command.effect?.paper?.number;
  const form = useValue(usePaperForm<InvoiceBody>(), (b) => b.form ?? '');
  const used = useUsed();
  return (
    <>
      <SheetHead title={formNames[form] ?? 'Invoice'} number={number} />
      <Who />
      <InIts />
      <Besides />
      <FromOrders />
      <FromCosts />
      <InvoiceLines effect={command.effect} refused={refused} />
      <Foot />
      <Missing />
      <Two style={{ marginTop: 14 }}>
        <Text
          variant="standard"
          fullWidth
          multiline
          name="note"
          offered={command.effect?.paper?.note}
          label="Note to the customer"
          placeholder="A note to the customer"
          sx={small}
        />
        {used('reference') && (
          <Text variant="standard" name="reference" label="Reference" placeholder="Reference" sx={{ ...small, width: 200 }} />
        )}
      </Two>
    </>
  );
}

/** In which currency it is. */
function InIts() {
  const form = usePaperForm<InvoiceBody>();
  return <PaperCurrency party={useValue(form, (b) => b.customer ?? 0)} day={useValue(form, (b) => b.day)} />;
}

/** What an invoice says beside its lines, as far as the firm uses it. */
function Besides() {
  const used = useUsed();
  const fields = [
    { name: 'subject', label: 'Subject', width: '100%' },
    { name: 'orderNumber', label: 'Their order number', width: 150 },
    { name: 'salesperson', label: 'Salesperson', width: 120 },
  ].filter((f) => used(f.name));
  if (fields.length === 0) return null;
  return (
    <Two style={{ marginBottom: 8 }}>
      {fields.map((f) => (
        <Text
          key={f.name}
          variant="standard"
          name={f.name}
          label={f.label}
          placeholder={f.label}
          optional
          sx={{ ...small, width: f.width, flexShrink: f.name === 'subject' ? 1 : 0 }}
        />
      ))}
    </Two>
  );
}

/** To whom, when, by when, for which job. */
function Who() {
  const form = usePaperForm<InvoiceBody>();
  const { command, refused } = useContext(EditingPlace)!;
  const to = useValue(form, (b) => b.customer ?? 0);
  const job = useValue(form, (b) => b.job ?? 0);
  const day = useValue(form, (b) => b.day);
  const due = useValue(form, (b) => b.due);
  const chosenTerms = useValue(form, (b) => b.terms ?? 0);
  const customer = useCustomer(to).data;
  const terms = (useTerms().data?.rows ?? []).filter((t) => !t.inactive);
  const own = customer?.id === to ? customer : undefined;
  const used = useUsed();
  return (
    <Facts>
      <PartyFields
        customer={to}
        job={job}
        onChange={(c, job) =>
          form.change((now) => ({ customer: c, job, setAgainst: c === now.customer ? (now.setAgainst ?? []) : [] }))
        }
        onSheet
        refused={refused}
      >
        {(who, job) => (
          <>
            <div>
              <Label>To</Label>
              {who}
              {own && !own.printed ? <AddressKept key={own.id} customer={own} /> : <Lines text={own?.printed} />}
            </div>
            <div>
              <Label>Invoice date</Label>
              <Figure kind="day" label="Invoice date" name="day" onSheet />
              {used('supplied') && <Supplied />}
            </div>
            <div>
              <Label>Due date</Label>
              <Due>
                <Figure
                  kind="due"
                  label="Due date"
                  name="due"
                  offered={command.effect?.paper?.due}
                  paper={day}
                  onSheet
                  width={100}
                />
                <Choice
                  onSheet
                  label="Terms"
                  field="terms"
                  width={96}
                  value={due ? -1 : chosenTerms}
                  onChange={(v) => form.change({ terms: Number(v), due: '' })}
                  options={[
                    ...(due ? [{ value: -1, name: 'as named' }] : []),
                    { value: 0, name: own?.termsName || 'own terms' },
                    ...terms.map((t) => ({ value: t.id ?? 0, name: t.name ?? '' })),
                  ]}
                />
              </Due>
            </div>
            <div>
              <Label>Job</Label>
              {job}
            </div>
          </>
        )}
      </PartyFields>
    </Facts>
  );
}

/** The day of supply, where it is not that of the invoice. */
function Supplied() {
  const form = usePaperForm<InvoiceBody>();
  const told = useValue(form, (b) => b.supplied !== undefined);
  if (!told)
    return (
      <Button
        size="small"
        sx={{ p: '0 2px', minHeight: 24, fontSize: 13 }}
        onClick={(e) => {
          const sheet = e.currentTarget.closest('[data-editor]');
          flushSync(() => form.change({ supplied: '' }));
          sheet?.querySelector<HTMLElement>('[data-field="supplied"] input')?.focus();
        }}
      >
        + service date
      </Button>
    );
  return (
    <>
      <Label>Service date</Label>
      <Figure kind="day" label="Service date" name="supplied" onSheet />
    </>
  );
}

/** What the printed paper will not say, told while it can still be put right. */
function Missing() {
  const form = usePaperForm<InvoiceBody>();
  const firm = useFirm().data;
  const banks = useBanks().data?.rows;
  const to = useValue(form, (b) => b.customer ?? 0);
  const customer = useCustomer(to).data;
  const missing = [
    customer?.id === to && !customer.printed && 'the customer’s address',
    firm && !firm.address && 'your address',
    firm && !firm.taxNumber && 'your tax number',
    banks && !banks.some((b) => b.iban) && 'your bank details',
  ].filter(Boolean);
  return (
    <>
      <Asked />
      {!!to && missing.length > 0 && <Label role="status">Not on the paper yet: {missing.join(', ')}.</Label>}
    </>
  );
}

/** What is still asked for of a job whose final invoice is written: it will not be paid as a deposit any more. */
function Asked() {
  const form = usePaperForm<InvoiceBody>();
  const job = useValue(form, (b) => (b.form === 'final' ? (b.job ?? 0) : 0));
  const { data: requests } = useQuery({
    queryKey: ['asked', job],
    queryFn: async () =>
      (await data(api.GET('/api/v1/blank', { params: { query: { job, finish: true, kind: 'invoice' } } }))).requests,
    enabled: job > 0,
  });
  if (!job || !requests?.length) return null;
  return (
    <Label role="status">
      Still asked for, and not paid:{' '}
      {requests.map((r, n) => (
        <span key={r.id}>
          {n > 0 && ', '}
          <Link to={`/papers/${r.id}`}>{r.name}</Link>
        </span>
      ))}
      .
    </Label>
  );
}

function Foot() {
  const form = usePaperForm<InvoiceBody>();
  const { command, refused } = useContext(EditingPlace)!;
  const customer = useValue(form, (b) => b.customer ?? 0);
  const again = useAgain();
  const bench = useQuery({
    queryKey: ['bench', customer, 'credits', again],
    queryFn: () =>
      data(
        api.GET('/api/v1/customers/{id}/bench', {
          params: { path: { id: customer }, query: { limit: 500, again: again || undefined } },
        }),
      ),
    enabled: customer > 0,
  });
  const currency = command.effect?.paper?.currency ?? '';
  const credits = ((customer && bench.data?.credits) || []).filter((c) => (c.currency ?? '') === currency);
  return <InvoiceFoot form={form} effect={command.effect} credits={credits} refused={refused} />;
}
