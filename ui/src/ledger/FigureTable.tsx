import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { Link } from 'react-router';
import type { components } from '../api/schema';
import { Choice } from '../papers/editing/fields';
import { Amount } from '../parts/Amount';

type Figures = components['schemas']['Figures'];

const Wide = styled('div')({ overflowX: 'auto', '& td:first-of-type, & th:first-of-type': { minWidth: 190 } });
const Group = styled(TableRow)(({ theme }) => ({
  '& td, & th': { fontWeight: 650, borderBottom: `1px solid ${theme.vars!.palette.tally.strong}` },
}));
const Plain = styled(Link)({
  color: 'inherit',
  textDecoration: 'none',
  '&:hover, &:focus-visible': { textDecoration: 'underline' },
});

/** An income statement or a balance sheet: each account opens its lines of that column. */
export function FigureTable({ figures, label }: { figures: Figures; label: string }) {
  const to = (account: number, column: number) => {
    const c = figures.columns[column]!;
    return `/ledger/accounts/${account}?${c.from ? `from=${c.from}&` : ''}to=${c.through}`;
  };
  const amounts = (all: string[], account = 0, final = false) =>
    all.map((a, n) => (
      <TableCell key={n} align="right">
        {account > 0 ? (
          <Plain to={to(account, n)}>
            <Amount value={a} quietNil />
          </Plain>
        ) : (
          <Amount value={a} final={final} quietNil={!final} />
        )}
      </TableCell>
    ));
  return (
    <Wide>
      <Table aria-label={label}>
        <TableHead>
          <TableRow>
            <TableCell>Account</TableCell>
            {figures.columns.map((c, n) => (
              <TableCell key={n} align="right">
                {c.name}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        {figures.groups.map((g) => (
          <TableBody key={g.name}>
            {g.rows.map((r) => (
              <TableRow key={r.accountId || r.account}>
                <TableCell>{r.account}</TableCell>
                {amounts(r.amounts, r.accountId)}
              </TableRow>
            ))}
            <Group>
              <TableCell component="th" scope="row">
                {g.name}
              </TableCell>
              {amounts(g.totals)}
            </Group>
          </TableBody>
        ))}
        <TableFooter>
          <TableRow>
            <TableCell>{figures.name}</TableCell>
            {amounts(figures.result, 0, true)}
          </TableRow>
        </TableFooter>
      </Table>
    </Wide>
  );
}

/** What figures stand beside: nothing, what came before, or a year before. */
export function Beside({
  value,
  before,
  onChange,
}: {
  value: string;
  before: { value: string; name: string };
  onChange: (value: string) => void;
}) {
  return (
    <Choice
      label="Beside it"
      field="against"
      value={value || 'nothing'}
      options={[{ value: 'nothing', name: 'nothing' }, before, { value: 'year', name: 'a year before' }]}
      onChange={(v) => onChange(v === 'nothing' ? '' : v)}
    />
  );
}
