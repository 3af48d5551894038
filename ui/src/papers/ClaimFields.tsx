import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { ClaimBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { useJob } from '../parts/records';
import { isNil, show } from '../parts/show';
import { useEditing } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';
import { ShareField } from './ShareField';

/** How much of a job's contract is done to date, and what comes of it. */
export default function ClaimFields() {
  const { body, change, effect, refused } = useEditing<ClaimBody>();
  const job = useJob(body.job ?? 0).data;
  const p = effect?.paper;
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={body.customer ?? 0}
          job={body.job ?? 0}
          onChange={(customer, job) => change({ customer, job })}
          refused={refused}
        />
        <ShareField
          label="Done to date"
          field="percent"
          percent={body.percent ?? ''}
          amount={body.toDate ?? ''}
          onChange={(percent, toDate) => change({ percent, toDate })}
          error={refused('percent') || refused('toDate')}
        />
        <Figure kind="amount" label="Certified of this claim, net" name="certified" placeholder="all of it" />
        <Figure kind="day" label="Invoice date" name="day" />
        <Figure kind="due" label="Due date" name="due" offered={p?.due} paper={body.day} />
        <Text label="Reference" name="reference" />
        <Text label="Number (empty: the next)" name="number" placeholder={p?.number} optional />
        <Check className="wide" name="recover" label="Deduct what was billed in advance, share by share" />
        <Check className="wide" name="credit" label="If less is done than was claimed, credit the latest claims" />
        <Text label="Note to the customer" name="note" className="wide" multiline />
      </FormGrid>
      {job && (
        <Typography sx={{ mt: 1 }} color="textSecondary">
          Contract {show(job.contract)}, claimed before {show(job.billed)}, left {show(job.leftToBill)}, all net.
        </Typography>
      )}
      {p && !isNil(p.before) && (
        <Table aria-label="What this claim comes to" sx={{ mt: 1, maxWidth: 460 }}>
          <TableBody>
            <Sum name="This claim, net" value={p.net} />
            {(p.taxes ?? []).map((t) => (
              <Sum key={t.code + t.percent} name={`Tax ${t.percent} %`} value={t.tax} />
            ))}
            <Sum name="With tax" value={p.before} />
            {(p.deductions ?? []).map((d) => (
              <Sum key={d.text + d.percent} name={d.text} value={d.off} />
            ))}
            {!isNil(p.retained) && <Sum name="Kept back by them" value={p.keptOff} />}
            <Sum name="Due now" value={p.left} final />
          </TableBody>
        </Table>
      )}
    </>
  );
}

function Sum({ name, value, final }: { name: string; value: string; final?: boolean }) {
  return (
    <TableRow>
      <TableCell>{final ? <b>{name}</b> : name}</TableCell>
      <TableCell align="right">
        <Amount value={value} final={final} />
      </TableCell>
    </TableRow>
  );
}
