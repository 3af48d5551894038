import Typography from '@mui/material/Typography';
import { api, type Currency, readAt } from '../api/client';
import { useCurrencies, useFirm } from '../parts/records';
import { show, showDay, showDays } from '../parts/show';
import { Rates } from './Rates';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

const newest = (c: Currency) => (c.rate ? `${show(c.rate)} of ${showDay(c.rateDay)}` : 'none yet');
const age = (c: Currency) => (!c.rate ? '' : (c.age ?? 0) <= 0 ? 'today’s' : showDays(c.age!));

/** The currencies beside the firm's own, and what they were worth. */
export function CurrencySetup() {
  const rows = useCurrencies().data?.rows;
  const own = useFirm().data?.currency;
  return (
    <>
      <RecordTable<Currency>
        kind="currencies"
        what="currency"
        alone
        rows={rows}
        nameOf={(c) => c.code}
        blank={{ code: '' }}
        empty={`All is in ${own}. Take a currency into use, say or read what it is worth, and papers and bank accounts may be in it.`}
        columns={[
          { title: 'Code', cell: (c) => c.code, text: (c) => c.code },
          { title: `One of it in ${own}`, cell: newest, text: newest },
          { title: 'Age of that', cell: age, text: age },
          { title: 'In use', cell: used, text: used },
        ]}
        save={(c) =>
          c.id
            ? api.PUT('/api/v1/currencies/{id}', { params: { path: { id: c.id }, header: readAt(c.version) }, body: c })
            : api.POST('/api/v1/currencies', { body: c })
        }
        form={(c, change, refused) => (
          <>
            {c.id ? (
              <Typography sx={{ alignSelf: 'center' }}>{c.code}</Typography>
            ) : (
              <Text
                label="Code, as USD"
                field="code"
                value={c.code}
                onChange={(code) => change({ code: code.toUpperCase() })}
                error={refused('code')}
                autoFocus
              />
            )}
            <InUse inactive={c.inactive} onChange={(inactive) => change({ inactive })} error={refused('inactive')} />
          </>
        )}
      />
      {!!rows?.length && <Rates codes={rows.map((c) => c.code)} />}
    </>
  );
}
