import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { api, type Notice } from '../api/client';
import { usePrimary } from '../parts/keys';
import { Notices, toNotices } from '../parts/Notices';

const Leaf = styled('main')(({ theme }) => ({
  maxWidth: 780,
  margin: '28px auto',
  padding: '26px 34px 30px',
  backgroundColor: theme.vars!.palette.tally.paper,
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
}));
const Grid = styled('div')({
  display: 'grid',
  gridTemplateColumns: '1fr 1fr',
  gap: '14px 18px',
  margin: '10px 0 18px',
  '& .wide': { gridColumn: '1 / -1' },
});
const Codes = styled('div')({ display: 'grid', gridTemplateColumns: '90px 1fr 110px', gap: '8px 18px', margin: '10px 0 18px' });

interface Fields {
  firm: string;
  address: string;
  taxNumber: string;
  currency: string;
  bank: string;
  iban: string;
  codes: { code: string; name: string; percent: string }[];
  numbering: { invoice: string; deposit: string; receipt: string; reversal: string };
  owner: string;
  email: string;
  password: string;
}

const numberings = ['invoice', 'deposit', 'receipt', 'reversal'] as const;

/** The firm's setup on the first start, in one screen. */
export default function SetUp() {
  const client = useQueryClient();
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const form = useForm<Fields>({
    defaultValues: {
      currency: 'EUR',
      bank: 'Bank',
      codes: [
        { code: 'STD', name: 'Standard', percent: '20' },
        { code: 'RED', name: 'Reduced', percent: '10' },
        { code: 'NIL', name: 'Nil', percent: '0' },
      ],
      numbering: { invoice: 'I{yy}-{0000}', deposit: 'D{yy}-{0000}', receipt: 'R{yy}-{0000}', reversal: 'X{yy}-{0000}' },
    },
  });
  const { register, handleSubmit, formState } = form;
  const field = (name: string, label: string, rest: object = {}) => (
    <TextField
      label={label}
      data-field={name}
      error={refusals.some((r) => r.field === name)}
      {...register(name as keyof Fields)}
      {...rest}
    />
  );
  const submit = handleSubmit(async (v) => {
    try {
      await api.POST('/api/v1/setup', {
        body: { ...v, currency: v.currency.toUpperCase(), codes: v.codes.filter((c) => c.code.trim() !== '') },
      });
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
  });
  usePrimary(() => void submit());
  return (
    <Leaf>
      <form onSubmit={submit}>
        <Typography variant="h1">A new set of books</Typography>
        <Typography variant="body2" color="textSecondary">
          Everything here can be changed later but the currency. The accounts are ready; the first deposit can be taken right
          after.
        </Typography>
        <Grid>
          {field('firm', 'Name of the firm', { autoFocus: true })}
          {field('taxNumber', 'Tax number')}
          {field('address', 'Address, as papers show it', { multiline: true, minRows: 2, className: 'wide' })}
          {field('currency', 'Currency (three letters)')}
          <span />
          {field('bank', 'First bank account')}
          {field('iban', 'IBAN')}
        </Grid>
        <Typography variant="h2">Tax codes</Typography>
        <Codes data-field="codes">
          {[0, 1, 2, 3].map((i) => (
            <CodeRow key={i} i={i} register={register} />
          ))}
        </Codes>
        <Typography variant="h2">Numbers of papers</Typography>
        <Grid>
          {numberings.map((k) => (
            <TextField
              key={k}
              label={`Each ${k}`}
              data-field={`numbering.${k}`}
              error={refusals.some((r) => r.field === `numbering.${k}`)}
              {...register(`numbering.${k}`)}
            />
          ))}
        </Grid>
        <Typography variant="h2">You</Typography>
        <Grid>
          {field('owner', 'Your name', { autoComplete: 'name' })}
          {field('email', 'E-mail', { autoComplete: 'username' })}
          {field('password', 'Password, 10 characters or more', { type: 'password', autoComplete: 'new-password' })}
        </Grid>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
          Open the books
        </Button>
        <Notices refusals={refusals} />
      </form>
    </Leaf>
  );
}

function CodeRow({ i, register }: { i: number; register: ReturnType<typeof useForm<Fields>>['register'] }) {
  return (
    <>
      <TextField label="Code" {...register(`codes.${i}.code`)} />
      <TextField label="Name" {...register(`codes.${i}.name`)} />
      <TextField label="Percent" {...register(`codes.${i}.percent`)} />
    </>
  );
}
