import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { api } from '../api/client';
import { Figure, Text } from '../papers/editing/fields';
import { Key } from '../parts/Layout';
import { Notices } from '../parts/Notices';
import { goesTo } from './Firms';
import { RecordPlace, useRecord } from '../parts/record';
import { useSession } from '../parts/records';

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
  gap: '16px 18px',
  margin: '12px 0 20px',
});
const Rates = styled(Grid)({ gridTemplateColumns: 'repeat(3, 1fr)' });

interface Body {
  firm: string;
  currency: string;
  rates: string[];
  owner: string;
  email: string;
  password: string;
  word: string;
}

// The codes that a new firm begins with; a rate that is left empty is none.
const codes = [
  { code: 'STD', name: 'Standard' },
  { code: 'RED', name: 'Reduced' },
  { code: 'NIL', name: 'Nil' },
];

/** The first start: a name, a currency, the rates of tax, a sign-in. The rest can wait. */
export default function SetUp() {
  const client = useQueryClient();
  const asksWord = useSession().data?.word;
  const told = window.location.hash.slice(1); // with the firm that was started
  const initial: Body = {
    firm: '',
    currency: 'EUR',
    rates: ['20', '10', '0'],
    owner: '',
    email: sessionStorage.getItem(goesTo) ?? '', // who starts it from another firm
    password: '',
    word: told,
  };
  const record = useRecord<Body>(initial, async ({ rates, ...b }) => {
    const charged = codes.flatMap((c, n) => (rates[n] ? [{ ...c, percent: rates[n] }] : []));
    await api.POST('/api/v1/setup', { body: { ...b, currency: b.currency.trim().toUpperCase(), codes: charged } });
    sessionStorage.removeItem(goesTo);
    await client.invalidateQueries();
  });
  return (
    <Leaf>
      <title>A new set of books – Clean Tally</title>
      <form
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          void record.submit();
        }}
        // The shell, which hears this key elsewhere, is not there yet.
        onKeyDown={(e) => e.key === 'Enter' && (e.ctrlKey || e.metaKey) && !e.repeat && void record.submit()}
      >
        <Typography variant="h1">A new set of books</Typography>
        <Typography variant="body2" color="textSecondary">
          Four things, and the first deposit can be taken. All but the currency can be changed later.
        </Typography>
        <RecordPlace record={record}>
          <Grid>
            <Text name="firm" label="Name of the firm" autoFocus />
            <Text name="currency" label="Currency (three letters)" />
          </Grid>
          <Typography variant="h2">Tax that you charge</Typography>
          <Rates data-field="codes">
            {codes.map((c, n) => (
              <Figure key={c.code} kind="percent" name={`rates[${n}]`} label={`${c.name}, percent`} />
            ))}
          </Rates>
          <Typography variant="h2">How you sign in</Typography>
          <Grid>
            <Text name="owner" label="Your name" autoComplete="name" />
            <Text name="email" label="E-mail" autoComplete="username" />
            <Text name="password" label="Password, 12 characters or more" type="password" autoComplete="new-password" />
            {asksWord && !told && <Text name="word" label="The word that the program printed" autoComplete="off" />}
          </Grid>
        </RecordPlace>
        <Button type="submit" variant="contained" disabled={record.busy}>
          Open the books <Key>Ctrl ↵</Key>
        </Button>
        <Notices refusals={record.refusals} />
        <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }}>
          Assumed until you say otherwise under Setup: one bank account, payment within 30 days, papers numbered by year
          (I26-0001), no address on them yet.
        </Typography>
      </form>
    </Leaf>
  );
}
