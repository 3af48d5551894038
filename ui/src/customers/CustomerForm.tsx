import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { api, data, type Customer, type CustomerBody, readAt } from '../api/client';
import { RecordDialog } from '../parts/RecordDialog';
import { useTerms } from '../parts/records';

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

/** The details of a customer, new or known. */
export function CustomerForm({ customer, name, supplier, onClose, onSaved, movesOn }: Props) {
  const terms = useTerms().data?.rows ?? [];
  const client = useQueryClient();
  const [role, setRole] = useState(
    customer?.noCustomer || (supplier && !customer) ? 'supplier' : customer?.supplier ? 'both' : 'customer',
  );
  const { register, getValues } = useForm<CustomerBody>({
    defaultValues: customer
      ? { ...customer }
      : {
          name: name ?? '',
          number: '',
          contact: '',
          email: '',
          phone: '',
          address: '',
          town: '',
          siteAddress: '',
          taxNumber: '',
          terms: 0,
          note: '',
        },
  });
  const save = async () => {
    const v = getValues();
    const body: CustomerBody = {
      name: v.name,
      number: v.number,
      contact: v.contact,
      email: v.email,
      phone: v.phone,
      address: v.address,
      town: v.town,
      siteAddress: v.siteAddress,
      taxNumber: v.taxNumber,
      note: v.note,
      terms: Number(v.terms ?? 0),
      inactive: String(v.inactive) === 'true',
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
    <RecordDialog
      title={customer ? 'Details' : supplier ? 'New supplier' : 'New customer'}
      onClose={onClose}
      onSave={save}
      movesOn={movesOn}
    >
      {(refused) => {
        const f = (field: keyof CustomerBody, label: string, rest: object = {}) => (
          <TextField label={label} data-field={field} error={refused(field)} {...register(field)} {...rest} />
        );
        return (
          <>
            {f('name', 'Name', { autoFocus: true, className: 'wide' })}
            {f('contact', 'Contact')}
            {f('number', 'Number (empty: the next)')}
            {f('email', 'E-mail')}
            {f('phone', 'Phone')}
            {f('address', 'Address, where papers go', { multiline: true, minRows: 2 })}
            {f('siteAddress', 'Where the work is, when elsewhere', { multiline: true, minRows: 2 })}
            {f('town', 'Town')}
            {f('taxNumber', 'Tax number')}
            {f('terms', 'Terms', {
              select: true,
              defaultValue: customer?.terms ?? 0,
              children: [
                <MenuItem key={0} value={0}>
                  The firm’s own
                </MenuItem>,
                ...terms
                  .filter((t) => !t.inactive || t.id === customer?.terms)
                  .map((t) => (
                    <MenuItem key={t.id} value={t.id}>
                      {t.name}
                    </MenuItem>
                  )),
              ],
            })}
            <TextField select label="Is a" value={role} onChange={(e) => setRole(e.target.value)}>
              <MenuItem value="customer">customer</MenuItem>
              <MenuItem value="both">customer and supplier</MenuItem>
              <MenuItem value="supplier">supplier</MenuItem>
            </TextField>
            {customer &&
              f('inactive', 'In use', {
                select: true,
                defaultValue: String(customer.inactive ?? false),
                children: [
                  <MenuItem key="f" value="false">
                    yes
                  </MenuItem>,
                  <MenuItem key="t" value="true">
                    no
                  </MenuItem>,
                ],
              })}
            {f('note', 'Note', { multiline: true, minRows: 2, className: 'wide' })}
          </>
        );
      }}
    </RecordDialog>
  );
}
