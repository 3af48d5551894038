import { RecordPicker } from '../parts/RecordPicker';
import { findParties, useCustomer } from '../parts/records';

interface PartyProps {
  label: string;
  field: string;
  value: number;
  onPick: (id: number) => void;
  error?: string;
  onSheet?: boolean;
}

/** Anybody, customer or supplier. */
export function PartyField(p: PartyProps) {
  const known = useCustomer(p.value).data;
  return (
    <RecordPicker
      label={p.label}
      field={p.field}
      chosen={p.value}
      value={p.value && known?.id === p.value ? { id: p.value, label: known.name } : null}
      onPick={(o) => p.onPick(o?.id ?? 0)}
      find={findParties}
      findKey={['party']}
      onSheet={p.onSheet}
      error={p.error}
      placeholder="none"
    />
  );
}
