import { styled } from '@mui/material/styles';
import { useContext, useState } from 'react';
import { useSession } from '../parts/records';
import { UnderstoodField } from '../parts/UnderstoodField';
import { EditingPlace } from './editing/Editing';

const Box = styled('span')({
  display: 'flex',
  alignItems: 'baseline',
  gap: 2,
  // The field is narrow; what is said of it is not.
  '& .MuiFormHelperText-root.Mui-error': { left: 0, right: 'auto', width: 'max-content', maxWidth: 300 },
});
const Unit = styled('button')(({ theme }) => ({
  all: 'unset',
  cursor: 'pointer',
  fontSize: 12.5,
  padding: '3px 2px',
  minWidth: 22,
  minHeight: 20,
  textAlign: 'center',
  color: theme.vars!.palette.text.secondary,
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}` },
}));

interface Props {
  label: string;
  field: string;
  percent: string;
  amount: string;
  onChange: (percent: string, amount: string) => void;
  error?: string;
}

/** A discount: a percentage, or an amount when its unit is pressed. */
export function LessField({ label, field, percent, amount, onChange, error }: Props) {
  const own = useSession().data?.currency ?? '';
  const currency = useContext(EditingPlace)?.command.effect?.paper?.currency || own;
  const [asAmount, setAsAmount] = useState(amount !== '');
  return (
    <Box>
      <UnderstoodField
        key={String(asAmount)}
        kind={asAmount ? 'amount' : 'percent'}
        label={label}
        field={field}
        value={asAmount ? amount : percent}
        onChange={(v) => (asAmount ? onChange('', v) : onChange(v, ''))}
        onSheet
        error={error}
        width={64}
      />
      <Unit
        type="button"
        aria-label={`${asAmount ? currency : '%'} – ${label}: press for ${asAmount ? 'percent' : 'an amount'}`}
        onClick={() => {
          onChange('', '');
          setAsAmount(!asAmount);
        }}
      >
        {asAmount ? currency : '%'}
      </Unit>
    </Box>
  );
}
