import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { usePrimary } from './keys';
import { Key } from './Layout';
import { Notices } from './Notices';
import { RecordPlace, type Written } from './record';

interface Props<B extends object> {
  record: Written<B>;
  /** Its fields. */
  children: ReactNode;
  /** What stands beside Save. */
  beside?: ReactNode;
}

/** A record that stands on a page of its own: its fields, what is wrong with them, and Save. */
export function RecordForm<B extends object>({ record, children, beside }: Props<B>) {
  usePrimary(() => void record.submit());
  return (
    <form
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        void record.submit();
      }}
      style={{ maxWidth: 680 }}
    >
      <RecordPlace record={record}>{children}</RecordPlace>
      <Notices refusals={record.refusals} />
      <div style={{ display: 'flex', gap: 12, alignItems: 'center', marginTop: 14 }}>
        <Button type="submit" variant="contained">
          Save <Key>Ctrl ↵</Key>
        </Button>
        {beside}
      </div>
    </form>
  );
}
