import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, data, type Found } from '../api/client';
import { show } from '../parts/show';
import { Palette } from './Palette';

const where: Record<Found['kind'], (id: number) => string> = {
  customer: (id) => `/customers/${id}`,
  job: (id) => `/jobs/${id}`,
  paper: (id) => `/papers/${id}`,
  account: (id) => `/ledger/accounts/${id}`,
};

/** The search: customers, jobs, papers and accounts by any part of a name, a number, an amount. */
export function Search({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState('');
  const go = useNavigate();
  const q = text.trim();
  const found = useQuery({
    queryKey: ['search', q],
    queryFn: () => data(api.GET('/api/v1/search', { params: { query: { q } } })),
    enabled: q !== '',
    placeholderData: keepPreviousData,
  });
  return (
    <Palette
      label="Find a name, number, amount"
      placeholder="Find a name, number, amount"
      text={text}
      onText={setText}
      rows={q ? (found.data?.rows ?? []) : []}
      render={(f) => ({
        key: `${f.kind}${f.id}`,
        main: f.name,
        side: [f.detail, show(f.amount), f.open && `${show(f.open)} open`, f.kind].filter(Boolean).join(' · '),
      })}
      onPick={(f) => {
        onClose();
        void go(where[f.kind](f.id));
      }}
      late={q !== '' && (found.isPlaceholderData || found.isLoading)}
      onClose={onClose}
      nothing={
        q ? (found.isFetching ? 'Looking …' : 'Nothing by that name, number or amount.') : 'Customers, jobs, papers and accounts.'
      }
    />
  );
}
