import { useQueryClient } from '@tanstack/react-query';
import { api, data, type Customer, type CustomerBody, readAt } from '../api/client';
import { useEditing } from '../papers/editing/Editing';
import { CurrencyChoice } from '../papers/CurrencyFields';
import { Check, Chosen, Figure, Text } from '../papers/editing/fields';
import { RecordDialog } from '../parts/RecordDialog';
import { useGroups, useLetterheads, useTerms } from '../parts/records';

interface Props {
  /** The customer that is changed; none for a new one. */
  customer?: Customer;
  name?: string;
  /** A new one is a supplier. */
  supplier?: boolean;
  onClose: () => void;
  movesOn?: boolean;
  onSaved: (c: Customer) => void;
}

type Role = 'customer' | 'supplier' | 'both';
type Body = Omit<CustomerBody, 'supplier' | 'noCustomer' | 'inactive'> & { role: Role; use: 'yes' | 'no' };

const texts = [
  'name',
  'number',
  'contact',
  'email',
  'phone',
  'address',
  'town',
  'siteAddress',
  'taxNumber',
  'note',
  'invoiceNote',
  'iban',
  'bic',
  'country',
  'copiesTo',
  'language',
  'withhold',
  'keepBack',
  'currency',
] as const satisfies (keyof CustomerBody)[];

function initialOf(c: Customer | undefined, name: string, supplier: boolean): Body {
  const role: Role = c?.noCustomer || (supplier && !c) ? 'supplier' : c?.supplier ? 'both' : 'customer';
  const body: Body = {
    name,
    terms: c?.terms ?? 0,
    group: c?.group ?? 0,
    letterhead: c?.letterhead ?? 0,
    leftAlone: c?.leftAlone ?? false,
    role,
    use: c?.inactive ? 'no' : 'yes',
  };
  if (c) for (const t of texts) body[t] = c[t] ?? '';
  return body;
}

/** The details of a customer, new or known. */
export function CustomerForm({ customer, name = '', supplier = false, onClose, onSaved, movesOn }: Props) {
  const terms = useTerms().data?.rows ?? [];
  const letterheads = (useLetterheads().data?.rows ?? []).filter((l) => !l.inactive || l.id === customer?.letterhead);
  const groups = (useGroups().data?.rows ?? []).filter((g) => !g.inactive || g.id === customer?.group);
  const client = useQueryClient();
  const save = async ({ role, use, ...rest }: Body) => {
    const body: CustomerBody = {
      ...rest,
      inactive: use === 'no',
      supplier: role !== 'customer',
      noCustomer: role === 'supplier',
    };
    const saved = customer
      ? await data(
          api.PUT('/api/v1/customers/{id}', { params: { path: { id: customer.id }, header: readAt(customer.version) }, body }),
        )
      : await data(api.POST('/api/v1/customers', { body }));
    await client.invalidateQueries();
    onSaved(saved);
  };
  return (
    <RecordDialog<Body>
      title={customer ? 'Details' : supplier ? 'New supplier' : 'New customer'}
      initial={initialOf(customer, name, supplier)}
      onClose={onClose}
      onSave={save}
      movesOn={movesOn}
    >
      <Text name="name" label="Name" autoFocus className="wide" />
      <Text name="contact" label="Contact" />
      <Text name="number" label="Number (empty: the next)" />
      <Text name="email" label="E-mail" />
      <Text name="phone" label="Phone" />
      <Text name="address" label="Address, where papers go" multiline minRows={2} />
      <Text name="siteAddress" label="Where the work is, when elsewhere" multiline minRows={2} />
      <Text name="town" label="Town" />
      <Text name="taxNumber" label="Tax number" />
      <Text name="country" label="Country (two letters)" />
      <Chosen
        name="terms"
        label="Terms"
        options={[
          { value: 0, name: 'The firm’s own' },
          ...terms.filter((t) => !t.inactive || t.id === customer?.terms).map((t) => ({ value: t.id ?? 0, name: t.name ?? '' })),
        ]}
      />
      <Chosen
        name="role"
        label="Is a"
        options={[
          { value: 'customer', name: 'customer' },
          { value: 'both', name: 'customer and supplier' },
          { value: 'supplier', name: 'supplier' },
        ]}
      />
      <Chosen
        name="group"
        label="Prices"
        options={[{ value: 0, name: 'the usual' }, ...groups.map((g) => ({ value: g.id ?? 0, name: `of ${g.name}` }))]}
      />
      <CurrencyChoice label="New papers are in" />
      <Chosen
        name="letterhead"
        label="Letterhead"
        options={[{ value: 0, name: 'that of each kind' }, ...letterheads.map((l) => ({ value: l.id ?? 0, name: l.name }))]}
      />
      <Text name="copiesTo" label="Mails in copy to (with commas)" />
      <Text name="language" label="Language of mails (empty: ours)" />
      <Check name="leftAlone" label="Left alone: no reminders" />
      {customer && <InUse />}
      <OfSuppliers />
      <Text name="note" label="Note" multiline minRows={2} className="wide" />
      <Text
        name="invoiceNote"
        label="A new invoice begins with this note (empty: the firm’s)"
        multiline
        minRows={2}
        className="wide"
      />
    </RecordDialog>
  );
}

/** What is kept of a supplier alone: where it is paid, what we keep of its bills. */
function OfSuppliers() {
  const { body } = useEditing<Body>();
  if (body.role === 'customer') return null;
  return (
    <>
      <Text name="iban" label="IBAN, where we pay" />
      <Text name="bic" label="BIC (empty: by the IBAN)" />
      <Figure kind="percent" name="keepBack" label="We keep back of bills, %" placeholder="nothing" />
      <Figure kind="percent" name="withhold" label="Tax we withhold, %" placeholder="none" />
    </>
  );
}

/** Whether a record is in use. */
export function InUse() {
  return (
    <Chosen
      name="use"
      label="In use"
      options={[
        { value: 'yes', name: 'yes' },
        { value: 'no', name: 'no' },
      ]}
    />
  );
}
