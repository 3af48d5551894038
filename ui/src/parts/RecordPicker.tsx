import Autocomplete, { createFilterOptions } from '@mui/material/Autocomplete';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';

export interface Option {
  id: number;
  label: string;
  detail?: string;
}

interface Props {
  label: string;
  field: string;
  value: Option | null;
  onPick: (option: Option | null) => void;
  /** Finds what fits what was typed. */
  find: (text: string) => Promise<Option[]>;
  /** What find depends on, beside the text. */
  findKey: unknown[];
  /** Creates a record by the name that was typed. */
  onCreate?: (name: string) => void;
  createWhat?: string;
  onSheet?: boolean;
  error?: boolean;
  autoFocus?: boolean;
  disabled?: boolean;
  placeholder?: string;
}

const Row = styled('li')(({ theme }) => ({
  display: 'flex',
  justifyContent: 'space-between !important',
  gap: 16,
  '&[data-first]': { backgroundColor: theme.vars!.palette.tally.tint },
  '& small': { color: theme.vars!.palette.text.secondary, fontSize: 12.5, whiteSpace: 'nowrap' },
}));

const Input = styled(TextField)({ '& .MuiInput-input': { padding: '2px 3px !important' } });

const asFound = createFilterOptions<Option>({ stringify: () => '' });

/** Finds a customer, job, item or account by any part of its name; creates one without leaving. */
export function RecordPicker(p: Props) {
  const [text, setText] = useState('');
  const [open, setOpen] = useState(false);
  const typed = text === p.value?.label ? '' : text;
  const query = useQuery({
    queryKey: ['find', p.field, ...p.findKey, typed],
    queryFn: () => p.find(typed),
    enabled: open,
    placeholderData: (old) => old,
  });
  const found = query.data ?? [];
  // What is still shown of an earlier text must not be chosen by the next key.
  const late = query.isPlaceholderData || query.isPending;
  const create: Option[] = p.onCreate && typed.trim() ? [{ id: -1, label: `New ${p.createWhat} “${typed.trim()}”` }] : [];
  const options = [...found, ...create];
  const waiting = useRef(false);
  const choose = (o: Option) => {
    waiting.current = false;
    setOpen(false);
    if (o.id === -1) p.onCreate?.(typed.trim());
    else p.onPick(o);
  };
  const chooseFirst = useRef(() => {});
  useEffect(() => {
    chooseFirst.current = () => options[0] && choose(options[0]);
  });
  useEffect(() => {
    if (!late && waiting.current) chooseFirst.current();
  }, [late]);
  const onKeyDown = (e: React.KeyboardEvent & { defaultMuiPrevented?: boolean }) => {
    const enter = e.key === 'Enter' && !e.ctrlKey && !e.metaKey;
    if (!open || !(enter || (e.key === 'Tab' && typed.trim()))) return;
    // What was walked to by arrows is chosen by the list itself; else the first
    // that fits is meant, and nothing where nothing was typed.
    if ((e.target as HTMLElement).getAttribute('aria-activedescendant') || !typed.trim()) return;
    const first = enter ? options[0] : found[0];
    if (late) waiting.current = true;
    else if (first) choose(first);
    else return;
    e.defaultMuiPrevented = true;
    if (enter) {
      e.preventDefault();
      e.stopPropagation();
    }
  };
  return (
    <Autocomplete<Option>
      data-field={p.field}
      size="small"
      fullWidth
      openOnFocus
      selectOnFocus
      handleHomeEndKeys
      forcePopupIcon={!p.onSheet}
      disabled={p.disabled}
      open={open}
      onOpen={() => setOpen(true)}
      onClose={() => setOpen(false)}
      options={options}
      onKeyDown={onKeyDown}
      filterOptions={(options) => asFound(options, { inputValue: '', getOptionLabel: (o) => o.label })}
      getOptionLabel={(o) => (o.id === -1 ? typed : o.label)}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      noOptionsText={query.isFetching ? 'Looking …' : 'Nothing by that name'}
      value={p.value}
      inputValue={text}
      onInputChange={(_, v) => setText(v)}
      onChange={(_, o) => (o ? choose(o) : p.onPick(null))}
      renderOption={({ key, ...props }, o) => (
        <Row key={key} {...props} data-first={(typed.trim() && o === options[0]) || undefined}>
          <span>{o.label}</span>
          {o.detail && <small>{o.detail}</small>}
        </Row>
      )}
      renderInput={(params) => (
        <Input
          {...params}
          variant={p.onSheet ? 'standard' : 'outlined'}
          label={p.onSheet ? undefined : p.label}
          placeholder={p.placeholder}
          error={p.error}
          autoFocus={p.autoFocus}
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps.htmlInput, 'aria-label': p.label, 'data-walk': '' },
          }}
        />
      )}
    />
  );
}
