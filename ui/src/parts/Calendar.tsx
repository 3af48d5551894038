import { AdapterDayjs } from '@mui/x-date-pickers/AdapterDayjs';
import { DateCalendar } from '@mui/x-date-pickers/DateCalendar';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import dayjs from 'dayjs';
import 'dayjs/locale/en-gb';
import { isDay } from './asOf';
import { useToday } from './records';

interface Props {
  /** YYYY-MM-DD, or nothing. */
  value: string;
  onPick: (day: string) => void;
}

/** A month to choose a day from; loaded when it is opened. */
export default function Calendar({ value, onPick }: Props) {
  const today = useToday();
  const day = isDay(value) ? value : today;
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs} adapterLocale="en-gb">
      <DateCalendar
        value={dayjs(day)}
        referenceDate={dayjs(today)}
        onChange={(d, how) => how === 'finish' && d && onPick(d.format('YYYY-MM-DD'))}
        autoFocus
        fixedWeekNumber={6}
        // The business day is chosen at first; the machine's own says nothing here.
        disableHighlightToday
      />
    </LocalizationProvider>
  );
}
