import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, readAt, type Customer, type CustomerBody } from '../api/client';
import { useSnackbar } from '../app/messages';
import { toNotices } from '../parts/Notices';
import { small } from './SheetHead';

/** The address of a customer who has none yet, written on the paper and kept with the customer. */
export function AddressKept({ customer }: { customer: Customer }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const [address, setAddress] = useState('');
  const [refused, setRefused] = useState('');
  const keep = async () => {
    if (!address.trim()) return;
    const { id, version, printed, termsName, position, jobs, ...body } = customer;
    void [printed, termsName, position, jobs];
    try {
      await api.PUT('/api/v1/customers/{id}', {
        params: { path: { id }, header: readAt(version) },
        body: { ...(body as CustomerBody), address },
      });
      setRefused('');
      say(`The address is kept with ${customer.name}.`);
      await client.invalidateQueries({ queryKey: ['customer'] });
    } catch (e) {
      setRefused(toNotices(e)[0]?.text ?? '');
    }
  };
  return (
    <TextField
      variant="standard"
      fullWidth
      multiline
      placeholder="Address, kept with the customer"
      value={address}
      onChange={(e) => setAddress(e.target.value)}
      onBlur={() => void keep()}
      error={!!refused}
      helperText={refused || undefined}
      sx={small}
      slotProps={{ htmlInput: { 'aria-label': 'Address of the customer', 'data-optional': '' } }}
    />
  );
}
