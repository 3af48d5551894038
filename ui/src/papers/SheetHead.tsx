import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useFirm } from '../parts/records';
import { Lines, Two } from '../parts/Sheet';
import { Text } from './editing/fields';

/** To whom, when, for which job: the facts under the head of a sheet. */
export const Facts = styled('div')({
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1.5fr) 108px 200px minmax(0, 1fr)',
  gap: '0 18px',
  margin: '18px 0 12px',
});

/** What a fact is called. */
export const Label = styled('div')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: 13.5 }));

/** A field that is written in as a part of the sheet. */
export const small = { '& input, & textarea': { padding: '2px 3px' } };

/** The head of a sheet that is written: the firm, what it is, its number. */
export function SheetHead({ title, number }: { title: string; number: string | undefined }) {
  const firm = useFirm().data;
  return (
    <Two>
      <div>
        <Typography variant="h2">{firm?.name}</Typography>
        <Lines text={firm?.address} />
      </div>
      <div style={{ textAlign: 'right' }}>
        <Typography variant="h1" component="h2">
          {title}
        </Typography>
        <Text
          variant="standard"
          name="number"
          optional
          label="Number"
          placeholder={number ? `${number}, given on posting` : 'given on posting'}
          sx={{ ...small, '& input': { textAlign: 'right', width: 190, padding: '2px 3px' } }}
        />
      </div>
    </Two>
  );
}
