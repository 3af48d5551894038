import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { api, type Notice, readAt } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';
import { FormGrid } from '../parts/RecordDialog';
import { useFirm, useTaxCodes, useTerms } from '../parts/records';

type Firm = components['schemas']['Firm'];

/** What the firm says of itself, as papers show it. */
export function FirmSetup() {
  const firm = useFirm().data;
  const terms = useTerms().data?.rows;
  const codes = useTaxCodes().data?.rows;
  if (!firm || !terms || !codes) return null;
  return (
    <>
      <Details firm={firm} terms={terms} codes={codes} />
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
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const { register, handleSubmit } = useForm<Firm>({ defaultValues: firm });
  const save = handleSubmit(async (v) => {
    try {
      const body: Firm = {
        name: v.name,
        address: v.address,
        email: v.email,
        phone: v.phone,
        taxNumber: v.taxNumber,
        terms: Number(v.terms),
        taxCode: Number(v.taxCode),
      };
      await api.PUT('/api/v1/firm', { params: { header: readAt(firm.version) }, body });
      setRefusals([]);
      say('Saved.');
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
  });
  usePrimary(() => void save());
  const f = (name: keyof Firm, label: string, rest: object = {}) => (
    <TextField label={label} data-field={name} error={refusals.some((r) => r.field === name)} {...register(name)} {...rest} />
  );
  return (
    <form onSubmit={save} style={{ maxWidth: 720 }}>
      <FormGrid>
        {f('name', 'Name')}
        {f('taxNumber', 'Tax number')}
        {f('address', 'Address', { multiline: true, minRows: 3, className: 'wide' })}
        {f('email', 'E-mail')}
        {f('phone', 'Phone')}
        {f('terms', 'Terms of a new customer', {
          select: true,
          defaultValue: firm.terms,
          children: terms
            .filter((t) => !t.inactive)
            .map((t) => (
              <MenuItem key={t.id} value={t.id}>
                {t.name}
              </MenuItem>
            )),
        })}
        {f('taxCode', 'Tax code of a new line', {
          select: true,
          defaultValue: firm.taxCode,
          children: codes
            .filter((c) => !c.inactive)
            .map((c) => (
              <MenuItem key={c.id} value={c.id}>
                {c.code} {c.name}
              </MenuItem>
            )),
        })}
      </FormGrid>
      <Notices refusals={refusals} />
      <Button type="submit" variant="contained" sx={{ mt: 2 }}>
        Save <Key>Ctrl ↵</Key>
      </Button>
    </form>
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
      say('Your password is changed.');
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
