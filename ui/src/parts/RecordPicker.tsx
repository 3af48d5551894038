import Autocomplete, { createFilterOptions } from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useFormHere } from '../papers/editing/useForm';
import { Boxed } from './UnderstoodField';

export interface Option {
  id: number;
  label: string;
  detail?: string;
}

interface Props {
  label: string;
  field: string;
  /** What is chosen; its ID stands before its name is known. */
  chosen: number;
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
  /** Why it is refused. */
  error?: string | boolean;
  autoFocus?: boolean;
  disabled?: boolean;
  placeholder?: string;
  /** What is told of what was filled in. */
  told?: string;
}

const Row = styled('li')(({ theme }) => ({
  display: 'flex',
  justifyContent: 'space-between !important',
  gap: 16,
  '&[data-first]': { backgroundColor: theme.vars!.palette.tally.tint },
  '& small': { color: theme.vars!.palette.text.secondary, fontSize: 12.5, whiteSpace: 'nowrap' },
}));

const Input = styled(Boxed)({
  '& .MuiInput-input': { padding: '2px 3px !important' },
  '& .MuiFormHelperText-root': { textAlign: 'left' },
});

const asFound = createFilterOptions<Option>({ stringify: () => '' });

/**
 * Finds a customer, job, item or account by any part of its name; creates one
 * without leaving. What was typed is taken by the answer to just that text,
 * however late it comes; where nothing fits, the text stays and the field says so.
 */
export function RecordPicker(p: Props) {
  const [open, setOpen] = useState(false);
  // What was typed, while nothing is chosen by it.
  const [typing, setTyping] = useState<string | null>(null);
  // What was chosen here, until its name is read.
  const [name, setName] = useState('');
  const [missed, setMissed] = useState('');
  const [failed, setFailed] = useState(false);
  const client = useQueryClient();
  const form = useFormHere();
  const [chosen, setChosen] = useState(p.chosen);
  if (chosen !== p.chosen) {
    setChosen(p.chosen);
    // Another is chosen from outside; what nobody is called stays.
    if (p.chosen || typing === null) {
      setTyping(null);
      setMissed('');
    }
  }
  const text = typing ?? p.value?.label ?? (p.chosen ? name : '');
  const typed = typing ?? '';
  const search = (of: string) => ({ queryKey: ['find', p.field, ...p.findKey, of], queryFn: () => p.find(of), staleTime: 5_000 });
  const query = useQuery({ ...search(typed), enabled: open, placeholderData: (old) => old });
  const found = query.data ?? [];
  const offer: Option[] = p.onCreate && typed.trim() ? [{ id: -1, label: `New ${p.createWhat} “${typed.trim()}”` }] : [];
  const options = [...found, ...offer];

  const nothing =
    missed && (failed ? `“${missed}” could not be looked up. Try again.` : `Nobody and nothing is called “${missed}”.`);
  useEffect(() => {
    if (!nothing || !form) return;
    form.unclear.set(p.field, nothing);
    return () => void form.unclear.delete(p.field);
  }, [form, nothing, p.field]);
  const miss = (of: string) => {
    setMissed(of.trim());
    if (p.chosen) p.onPick(null);
  };

  // Until it is created, there is nobody by that name.
  const create = (name: string) => {
    setMissed(name.trim());
    p.onCreate?.(name.trim());
  };
  const choose = (o: Option) => {
    setOpen(false);
    setMissed('');
    if (o.id === -1) return create(typed);
    setTyping(null);
    setName(o.label);
    p.onPick(o);
  };
  // What is meant by a text that was typed and not chosen from the list.
  const meant = useRef('');
  const mean = (of: string, enter = false) => {
    if (!of.trim() || meant.current === of) return;
    meant.current = of;
    setOpen(false);
    const work = client.fetchQuery(search(of)).then(
      ([first]) => {
        if (meant.current !== of) return;
        meant.current = '';
        if (first) choose(first);
        else if (enter && p.onCreate) create(of);
        else miss(of);
      },
      () => {
        if (meant.current !== of) return;
        meant.current = '';
        setFailed(true);
        miss(of);
      },
    );
    form?.wait(p.field, work);
  };
  const unchosen = typed.trim() && !missed ? typed : '';
  const finish = useRef(() => {});
  useEffect(() => {
    finish.current = () => unchosen && mean(unchosen);
  });
  useEffect(() => form?.finish(() => finish.current()), [form]);

  const onKeyDown = (e: React.KeyboardEvent & { defaultMuiPrevented?: boolean }) => {
    const enter = e.key === 'Enter' && !e.ctrlKey && !e.metaKey;
    if (!(enter || e.key === 'Tab') || !typed.trim()) return;
    // What was walked to by arrows is chosen by the list itself.
    if ((e.target as HTMLElement).getAttribute('aria-activedescendant')) return;
    const onlyNew = enter && !query.isPlaceholderData && query.isSuccess && found.length === 0 && offer[0];
    e.defaultMuiPrevented = true;
    if (onlyNew) {
      e.preventDefault();
      e.stopPropagation();
      return choose(onlyNew);
    }
    mean(typed, enter);
  };
  const said = nothing ? nothing : typeof p.error === 'string' ? p.error : (p.told ?? '');
  return (
    <Autocomplete<Option>
      data-field={p.field}
      size="small"
      fullWidth
      openOnFocus
      handleHomeEndKeys
      forcePopupIcon={!p.onSheet}
      disabled={p.disabled}
      open={open}
      onOpen={(e) => !(e.type === 'focus' && (p.chosen || missed)) && setOpen(true)}
      onClose={() => setOpen(false)}
      options={options}
      onKeyDown={onKeyDown}
      filterOptions={(options) => asFound(options, { inputValue: '', getOptionLabel: (o) => o.label })}
      getOptionLabel={(o) => (o.id === -1 ? typed : o.label)}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      noOptionsText={query.isFetching ? 'Looking …' : 'Nothing by that name'}
      value={p.value}
      inputValue={text}
      onInputChange={(_, v, reason) => {
        // What was typed stays until it is understood; only a person clears it.
        if (reason !== 'input' && reason !== 'clear') return;
        setTyping(v);
        setMissed('');
        setFailed(false);
        meant.current = '';
        if (v === '' && p.chosen) p.onPick(null);
      }}
      onChange={(_, o) => (o ? choose(o) : p.onPick(null))}
      onBlur={() => unchosen && mean(unchosen)}
      slotProps={{ popper: { sx: { minWidth: 270 } } }}
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
          error={!!p.error || !!missed}
          helperText={
            said && (
              <>
                {said}
                {missed && p.onCreate && (
                  <Button size="small" onClick={() => create(missed)}>
                    Create
                  </Button>
                )}
              </>
            )
          }
          autoFocus={p.autoFocus}
          onFocus={(e) => e.target.select()}
          slotProps={{
            ...params.slotProps,
            htmlInput: {
              ...params.slotProps.htmlInput,
              'aria-label': p.label,
              'data-filled': p.chosen ? '' : undefined,
            },
          }}
        />
      )}
    />
  );
}
