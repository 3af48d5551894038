import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data, type NotPassedOnBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { SearchField } from '../parts/ListFilters';
import { UnderstoodField } from '../parts/UnderstoodField';
import { costId } from './costLines';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';

const most = 50;

function useCostsFound(query: { q?: string; ids?: number[]; limit: number }, enabled = true) {
  return useQuery({
    queryKey: ['costs', query],
    queryFn: () => data(api.GET('/api/v1/costs', { params: { query } })),
    placeholderData: keepPreviousData,
    enabled,
  }).data;
}

/** Costs that are not to be billed, with a reason. */
export default function NotPassedOnFields() {
  const { body, change, refused } = useEditing<NotPassedOnBody>();
  const costs = body.costs ?? [];
  const [q, setQ] = useState('');
  const found = useCostsFound({ q: q || undefined, limit: most });
  const taken = useCostsFound({ ids: costs.map(costId), limit: 200 }, costs.length > 0);
  const place = (paper: number, line: number) => costs.findIndex((c) => c.paper === paper && c.line === line);
  const of = costs.length > 0 ? (taken?.rows ?? []) : [];
  const rows = [...of, ...(found?.rows ?? []).filter((c) => place(c.paper, c.line) < 0)];
  const set = (paper: number, line: number, amount: string | null) =>
    change((now) => {
      const rest = (now.costs ?? []).filter((c) => c.paper !== paper || c.line !== line);
      return { costs: amount === null ? rest : [...rest, { paper, line, amount }] };
    });
  return (
    <>
      <FormGrid>
        <Text label="Why is it not to be billed?" name="reason" className="wide" />
        <Figure kind="day" label="Date" name="day" />
      </FormGrid>
      <SearchField label="What, paper, supplier, job, customer" value={q} onChange={setQ} />
      {found && rows.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }} data-field="costs">
          {q ? 'No cost that waits is found by this.' : 'No cost waits to be passed on.'}
        </Typography>
      )}
      {rows.length > 0 && (
        <Table aria-label="Costs that wait" sx={{ mt: 2 }} data-field="costs">
          <TableHead>
            <TableRow>
              <TableCell>Cost</TableCell>
              <TableCell>Job</TableCell>
              <TableCell align="right">Waits</TableCell>
              <TableCell align="right">Not billed</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((c) => {
              const at = place(c.paper, c.line);
              return (
                <TableRow key={c.id}>
                  <TableCell>
                    <b>{c.number}</b> {c.text}
                    {c.credited && ', given back past what waited'}
                  </TableCell>
                  <TableCell>{c.job}</TableCell>
                  <TableCell align="right">
                    <Amount value={c.left} />
                  </TableCell>
                  <TableCell align="right" sx={{ width: 120 }}>
                    {at >= 0 && (
                      <UnderstoodField
                        kind="amount"
                        label={`Not billed of ${c.text}`}
                        field={`costs[${at}].amount`}
                        value={costs[at]?.amount || c.left}
                        onChange={(v) => set(c.paper, c.line, v)}
                        onSheet
                        error={refused(`costs[${at}].amount`)}
                      />
                    )}
                  </TableCell>
                  <TableCell align="right" sx={{ width: 96 }}>
                    {at < 0 ? (
                      <Button onClick={() => set(c.paper, c.line, '')} aria-label={`Do not bill ${c.text}`}>
                        Do not bill
                      </Button>
                    ) : (
                      <Button onClick={() => set(c.paper, c.line, null)}>Take off</Button>
                    )}
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      )}
      {(found?.count ?? 0) > most && (
        <Typography variant="body2" color="textSecondary">
          {found!.count - most} more are found by what is written above.
        </Typography>
      )}
    </>
  );
}
