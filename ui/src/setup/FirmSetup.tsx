import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Notice, readAt } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';
import { Chosen, Text, useField } from '../papers/editing/fields';
import { taxName } from '../papers/TaxCodeField';
import { RecordPlace, useRecord } from '../parts/record';
import { FormGrid } from '../parts/RecordDialog';
import { useFirm, useTaxCodes, useTerms } from '../parts/records';

type Firm = components['schemas']['Firm'];

const dateStyles: NonNullable<Firm['dateStyle']>[] = ['20 Nov 2026', '20.11.2026', '20/11/2026', '11/20/2026', '2026-11-20'];
const numberStyles: NonNullable<Firm['numberStyle']>[] = ['1,234.56', '1.234,56', '1 234,56', '1’234.56'];

/** What the firm says of itself, as papers show it. */
export function FirmSetup() {
  const firm = useFirm().data;
  const terms = useTerms().data?.rows;
  const codes = useTaxCodes().data?.rows;
  if (!firm || !terms || !codes) return null;
  return (
    <>
      <Details key={firm.version} firm={firm} terms={terms} codes={codes} />
      <Password />
      <Margin>
        <ListNote title="Firm">
          What is written here stands on every paper that is printed. The currency, {firm.currency}, stays as it was set up.
        </ListNote>
      </Margin>
    </>
  );
}

interface DetailsProps {
  firm: Firm;
  terms: components['schemas']['Terms'][];
  codes: components['schemas']['TaxCode'][];
}

function Details({ firm, terms, codes }: DetailsProps) {
  const client = useQueryClient();
  const say = useSnackbar();
  const record = useRecord<Firm>(firm, async (v) => {
    const body: Firm = {
      name: v.name,
      address: v.address,
      email: v.email,
      phone: v.phone,
      taxNumber: v.taxNumber,
      country: v.country,
      terms: v.terms,
      taxCode: v.taxCode,
      taxDue: v.taxDue,
      dateStyle: v.dateStyle,
      numberStyle: v.numberStyle,
      invoiceNote: v.invoiceNote,
      unusedFields: v.unusedFields ?? [],
    };
    await api.PUT('/api/v1/firm', { params: { header: readAt(firm.version) }, body });
    say('Saved.');
    await client.invalidateQueries();
  });
  usePrimary(() => void record.submit());
  const open = <T extends { inactive?: boolean }>(rows: T[]) => rows.filter((r) => !r.inactive);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void record.submit();
      }}
      style={{ maxWidth: 720 }}
    >
      <RecordPlace record={record}>
        <FormGrid>
          <Text name="name" label="Name" />
          <Text name="taxNumber" label="Tax number" />
          <Text name="country" label="Country (two letters, for electronic invoices)" />
          <Chosen
            name="taxDue"
            label="Tax on what is billed is owed"
            options={[
              { value: 'billed', name: 'when it is billed' },
              { value: 'advances paid', name: 'when it is billed, of deposit invoices when they are paid' },
              { value: 'paid', name: 'when it is paid' },
            ]}
          />
          <Text name="address" label="Address" multiline minRows={3} className="wide" />
          <Text name="email" label="E-mail" />
          <Text name="phone" label="Phone" />
          <Chosen
            name="terms"
            label="Terms of a new customer"
            options={open(terms).map((t) => ({ value: t.id ?? 0, name: t.name ?? '' }))}
          />
          <Chosen
            name="taxCode"
            label="Tax code of a new line"
            options={open(codes).map((c) => ({ value: c.id ?? 0, name: taxName(c) }))}
          />
          <Chosen name="dateStyle" label="Dates are written" options={dateStyles.map((s) => ({ value: s, name: s }))} />
          <Chosen name="numberStyle" label="Numbers are written" options={numberStyles.map((s) => ({ value: s, name: s }))} />
          <Text name="invoiceNote" label="A new invoice begins with this note" multiline minRows={2} className="wide" />
        </FormGrid>
        <Typography variant="h2" sx={{ mt: 3 }}>
          What an invoice asks for
        </Typography>
        <UsedFields />
      </RecordPlace>
      <Notices refusals={record.refusals} />
      <Button type="submit" variant="contained" sx={{ mt: 2 }}>
        Save <Key>Ctrl ↵</Key>
      </Button>
    </form>
  );
}

const invoiceFields = [
  { id: 'subject', name: 'Subject' },
  { id: 'orderNumber', name: 'Their order number' },
  { id: 'salesperson', name: 'Salesperson' },
  { id: 'reference', name: 'Reference' },
  { id: 'supplied', name: 'Service date' },
  { id: 'discount', name: 'Discount on the whole' },
  { id: 'includes', name: 'Prices with tax' },
  { id: 'roundTo', name: 'Rounding' },
];

/** Which fields of an invoice the firm uses; the others are not shown. */
function UsedFields() {
  const { value, set } = useField<string[] | undefined>('unusedFields');
  const unused = value ?? [];
  return (
    <div data-field="unusedFields">
      {invoiceFields.map((f) => (
        <FormControlLabel
          key={f.id}
          control={
            <Checkbox
              size="small"
              checked={!unused.includes(f.id)}
              onChange={(e) => set(e.target.checked ? unused.filter((x) => x !== f.id) : [...unused, f.id])}
            />
          }
          label={f.name}
        />
      ))}
    </div>
  );
}

function Password() {
  const [old, setOld] = useState('');
  const [password, setPassword] = useState('');
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const say = useSnackbar();
  const save = async (e: React.FormEvent) => {
    e.preventDefault();
    try {
      await api.POST('/api/v1/password', { body: { old, password } });
      setOld('');
      setPassword('');
      setRefusals([]);
      say('Your password is changed. Whoever is signed in with the old one signs in again.');
    } catch (err) {
      setRefusals(toNotices(err));
    }
  };
  return (
    <form onSubmit={save} style={{ maxWidth: 720 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Your password
      </Typography>
      <FormGrid>
        <TextField
          label="Old password"
          type="password"
          autoComplete="current-password"
          data-field="old"
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
        <TextField
          label="New password"
          type="password"
          autoComplete="new-password"
          data-field="password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
      </FormGrid>
      <Notices refusals={refusals} />
      <Button type="submit" variant="outlined" sx={{ mt: 2 }} disabled={!old || !password}>
        Change it
      </Button>
    </form>
  );
}
