import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { Failure } from '../parts/Layout';
import { OneStop } from '../parts/OneStop';
import { Row } from '../parts/Row';
import { showDay } from '../parts/show';
import type { WhyOf } from '../parts/why';

/** Why a balance is what it is: the shortest list of papers that add up to it. */
export function WhyDialog({ why, onClose }: { why: WhyOf; onClose: () => void }) {
  const { name, ...query } = why;
  const go = useNavigate();
  const { data: w, error } = useQuery({
    queryKey: ['why', query],
    queryFn: () => data(api.GET('/api/v1/why', { params: { query } })),
  });
  const open = (paper: number) => {
    onClose();
    void go(`/papers/${paper}`);
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="why">
      <DialogTitle id="why">Why? {name}</DialogTitle>
      <DialogContent sx={{ minHeight: 180 }}>
        {error && <Failure error={error} />}
        {w && w.rows.length === 0 && <Typography>Nothing adds up to it: it is nil.</Typography>}
        {w && w.rows.length > 0 && (
          <OneStop>
            <Table aria-label={`Papers that add up to ${name}`}>
              <TableHead>
                <TableRow>
                  <TableCell>Date</TableCell>
                  <TableCell>Paper</TableCell>
                  <TableCell>What</TableCell>
                  <TableCell align="right">Of it</TableCell>
                </TableRow>
              </TableHead>
              <TableBody>
                {w.rows.map((r, i) => (
                  <Row
                    key={i}
                    data-row={i}
                    tabIndex={-1}
                    autoFocus={i === 0}
                    onClick={() => open(r.paperId)}
                    onKeyDown={(e) => e.key === 'Enter' && open(r.paperId)}
                  >
                    <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(r.day)}</TableCell>
                    <TableCell sx={{ whiteSpace: 'nowrap' }}>{r.number}</TableCell>
                    <TableCell>{r.text}</TableCell>
                    <TableCell align="right">
                      <Amount value={r.amount} />
                    </TableCell>
                  </Row>
                ))}
                {w.earlier && (
                  <TableRow>
                    <TableCell colSpan={3}>and older papers, together</TableCell>
                    <TableCell align="right">
                      <Amount value={w.earlier} />
                    </TableCell>
                  </TableRow>
                )}
              </TableBody>
              <TableFooter>
                <TableRow>
                  <TableCell colSpan={3}>Together</TableCell>
                  <TableCell align="right">
                    <Amount value={w.total} final />
                  </TableCell>
                </TableRow>
              </TableFooter>
            </Table>
          </OneStop>
        )}
      </DialogContent>
    </Dialog>
  );
}
