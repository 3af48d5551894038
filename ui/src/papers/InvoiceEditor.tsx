import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { api, data, type InvoiceBody, type InvoiceLineBody } from '../api/client';
import { usePreview } from '../parts/preview';
import { useCustomer, useFirm, useTerms, useToday } from '../parts/records';
import { Lines, PaperSheet, Two } from '../parts/Sheet';
import { UnderstoodField } from '../parts/UnderstoodField';
import { EditorFrame } from './EditorFrame';
import { InvoiceFoot } from './InvoiceFoot';
import { InvoiceLines } from './InvoiceLines';
import { PartyFields } from './PartyFields';
import { useDraft } from './useDraft';
import { walk } from './walk';

const Facts = styled('div')({
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1.5fr) 108px 200px minmax(0, 1fr)',
  gap: '0 18px',
  margin: '18px 0 12px',
});
const Label = styled('div')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: 13.5 }));
const Due = styled('div')({ display: 'flex', gap: 6, alignItems: 'baseline' });
const Small = styled(TextField)({ '& input, & textarea': { padding: '2px 3px' } });

/** Whether nothing was written on a line. */
function blank(l: InvoiceLineBody): boolean {
  return !l.text && !l.unitPrice && !l.quantity && !l.article;
}

/** The lines up to the last that says something. */
function written(lines: InvoiceLineBody[]): InvoiceLineBody[] {
  const last = lines.findLastIndex((l) => !blank(l));
  return lines.slice(0, last + 1);
}

/** The work is done: an invoice, written on the paper itself. */
export function InvoiceEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  const firm = useFirm().data;
  const terms = (useTerms().data?.rows ?? []).filter((t) => !t.inactive);
  const draft = useDraft<InvoiceBody>(
    'invoice',
    id,
    { customer: Number(params.get('customer') ?? 0), job: Number(params.get('job') ?? 0), day: today, lines: [], setAgainst: [] },
    (b) => !!(written(b.lines ?? []).length || (b.customer && (b.reference || b.note))),
  );
  const body = draft.body ?? {};
  const lines = written(body.lines ?? []);
  const sent = { ...body, lines };
  const effect = usePreview('/api/v1/invoices', draft.body ? sent : null, draft.id);
  const customer = useCustomer(body.customer ?? 0).data;
  const bench = useQuery({
    queryKey: ['bench', body.customer ?? 0],
    queryFn: () => data(api.GET('/api/v1/customers/{id}/bench', { params: { path: { id: body.customer ?? 0 } } })),
    enabled: !!body.customer,
  });
  if (!draft.body || !firm) return null;
  const exact = {
    ...sent,
    setAgainst: (body.setAgainst ?? []).map((u) => ({
      ...u,
      amount: u.amount || (effect?.pairs ?? []).find((p) => p.credit === u.credit)?.amount,
    })),
  };
  const several = (body.setAgainst ?? []).some((u) => (effect?.pairs ?? []).filter((p) => p.credit === u.credit).length > 1);
  return (
    <EditorFrame
      title="Invoice, draft"
      path="/api/v1/invoices"
      draft={draft}
      effect={effect}
      body={several ? sent : exact}
      posted="Invoice"
      quiet={lines.some((l) => l.unitPrice) ? [] : ['lines', 'lines[0].text']}
      hint="Write who it is for and what was done: the entry follows every change, before anything is written."
    >
      {(refused) => (
        <div onKeyDown={walk}>
          <PaperSheet>
            <Two>
              <div>
                <Typography variant="h2">{firm.name}</Typography>
                <Lines text={firm.address} />
              </div>
              <div style={{ textAlign: 'right' }}>
                <Typography variant="h1" component="h2">
                  Invoice
                </Typography>
                <Small
                  variant="standard"
                  data-field="number"
                  value={body.number ?? ''}
                  onChange={(e) => draft.change({ number: e.target.value })}
                  placeholder={effect?.paper?.number ? `${effect.paper.number}, given on posting` : 'given on posting'}
                  error={refused('number')}
                  slotProps={{ htmlInput: { 'aria-label': 'Number', style: { textAlign: 'right', width: 190 } } }}
                />
              </div>
            </Two>
            <Facts>
              <PartyFields
                customer={body.customer ?? 0}
                job={body.job ?? 0}
                onChange={(c, job) =>
                  draft.change({ customer: c, job, setAgainst: c === body.customer ? (body.setAgainst ?? []) : [] })
                }
                onSheet
                refused={refused}
                autoFocus
              >
                {(who, job) => (
                  <>
                    <div>
                      <Label>To</Label>
                      {who}
                      <Lines text={customer?.id === body.customer ? customer?.address : ''} />
                    </div>
                    <div>
                      <Label>Day</Label>
                      <UnderstoodField
                        kind="day"
                        label="Day"
                        field="day"
                        value={body.day ?? ''}
                        onChange={(day) => draft.change({ day })}
                        onSheet
                        error={refused('day')}
                      />
                    </div>
                    <div>
                      <Label>Due</Label>
                      <Due>
                        <UnderstoodField
                          kind="due"
                          label="Due"
                          field="due"
                          value={body.due || effect?.paper?.due || ''}
                          paper={body.day}
                          onChange={(due) => draft.change({ due })}
                          onSheet
                          error={refused('due')}
                          width={100}
                        />
                        <Select
                          variant="standard"
                          disableUnderline
                          displayEmpty
                          value={body.due ? -1 : (body.terms ?? 0)}
                          onChange={(e) => draft.change({ terms: Number(e.target.value), due: '' })}
                          inputProps={{ 'aria-label': 'Terms' }}
                          sx={{ fontSize: 13.5, maxWidth: 96 }}
                        >
                          {body.due && <MenuItem value={-1}>as named</MenuItem>}
                          <MenuItem value={0}>{customer?.termsName || 'own terms'}</MenuItem>
                          {terms.map((t) => (
                            <MenuItem key={t.id} value={t.id}>
                              {t.name}
                            </MenuItem>
                          ))}
                        </Select>
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
            <InvoiceLines
              lines={body.lines ?? []}
              effect={effect}
              onChange={(update) => draft.change((now) => ({ lines: update(now.lines ?? []) }))}
              refused={refused}
            />
            <InvoiceFoot
              body={body}
              effect={effect}
              credits={bench.data?.credits ?? []}
              onChange={draft.change}
              refused={refused}
            />
            <Two style={{ marginTop: 14 }}>
              <Small
                variant="standard"
                fullWidth
                multiline
                value={body.note ?? ''}
                onChange={(e) => draft.change({ note: e.target.value })}
                placeholder="A note to the customer"
                slotProps={{ htmlInput: { 'aria-label': 'Note to the customer' } }}
              />
              <Small
                variant="standard"
                data-field="reference"
                value={body.reference ?? ''}
                onChange={(e) => draft.change({ reference: e.target.value })}
                placeholder="Reference"
                slotProps={{ htmlInput: { 'aria-label': 'Reference' } }}
                style={{ width: 200 }}
              />
            </Two>
          </PaperSheet>
        </div>
      )}
    </EditorFrame>
  );
}
