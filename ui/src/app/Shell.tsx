import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { styled, useColorScheme } from '@mui/material/styles';
import Tooltip from '@mui/material/Tooltip';
import { useQueryClient } from '@tanstack/react-query';
import { Suspense, useCallback, useEffect, useEffectEvent, useLayoutEffect, useRef, useState } from 'react';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { at, under } from '../api/at';
import { api, heard, signedOut } from '../api/client';
import { useAway } from '../parts/reach';
import { Boundary } from './Boundary';
import { Key, Page, PageHead } from '../parts/Layout';
import { MarginPlace } from '../parts/Margin';
import { useMay } from '../parts/may';
import { runBack, runPrimary, typing } from '../parts/keys';
import { useDesk, useSession } from '../parts/records';
import { asOfHere, isDay, lookBackFrom, useLookingBack } from '../parts/asOf';
import { showLongDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { figureMeant, type WhyOf } from '../parts/why';
import { serif } from '../theme';
import { allEnds, beginEnd, nextEnd } from '../desk/groups';
import { Firms, useFirms } from './Firms';
import { KeyList } from './KeyList';
import { loadPages } from './pages';
import { Search } from './Search';
import { SignInAgain } from './SignIn';
import { WhatHappened } from './WhatHappened';
import { useSnackbar } from './messages';
import { WhyDialog } from './WhyDialog';

const places = [
  { to: '/desk', name: 'Desk', key: 'd' },
  { to: '/customers', name: 'Customers', key: 'c' },
  { to: '/jobs', name: 'Jobs', key: 'j' },
  { to: '/papers', name: 'Papers', key: 'p' },
  { to: '/bank', name: 'Bank', key: 'b' },
  { to: '/ledger', name: 'Ledger', key: 'l' },
];

const Frame = styled('div')({
  display: 'grid',
  gridTemplateRows: '46px 1fr',
  gridTemplateColumns: '104px minmax(0, 1fr)',
  height: '100vh',
});
const Skip = styled('a')(({ theme }) => ({
  position: 'absolute',
  left: 8,
  top: -60,
  zIndex: 10,
  padding: '8px 14px',
  backgroundColor: theme.vars!.palette.tally.paper,
  color: theme.vars!.palette.primary.dark,
  '&:focus': { top: 6 },
}));
const Top = styled('header')({
  gridColumn: '1 / -1',
  display: 'flex',
  alignItems: 'center',
  gap: 12,
  padding: '0 16px 0 18px',
  minWidth: 0,
});
const Day = styled('span')(({ theme }) => ({
  borderLeft: `1px solid ${theme.vars!.palette.tally.strong}`,
  paddingLeft: 12,
  color: theme.vars!.palette.text.secondary,
  fontSize: 14,
  whiteSpace: 'nowrap',
}));
const FirmButton = styled(Button)(({ theme }) => ({
  fontFamily: serif,
  fontSize: 16.5,
  fontWeight: 650,
  color: theme.vars!.palette.text.primary,
  padding: '2px 0',
  minWidth: 0,
  overflow: 'hidden',
  textOverflow: 'ellipsis',
  display: 'block',
}));
const FindButton = styled(Button)(({ theme }) => ({
  width: 280,
  justifyContent: 'space-between',
  fontWeight: 400,
  color: theme.vars!.palette.text.secondary,
  backgroundColor: theme.vars!.palette.tally.second,
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  '&:hover': { backgroundColor: theme.vars!.palette.tally.paper },
}));
const Tabs = styled('nav')({
  display: 'flex',
  flexDirection: 'column',
  gap: 5,
  padding: '12px 0 0 8px',
  '@media print': { display: 'none' },
});
const Tab = styled(NavLink)(({ theme }) => ({
  display: 'flex',
  justifyContent: 'space-between',
  alignItems: 'center',
  height: 46,
  padding: '0 9px 0 14px',
  textDecoration: 'none',
  fontSize: 15,
  color: theme.vars!.palette.text.secondary,
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  borderRight: 0,
  borderRadius: '7px 0 0 7px',
  backgroundColor: `color-mix(in srgb, ${theme.vars!.palette.tally.desk}, ${theme.vars!.palette.tally.strong} 18%)`,
  '&.active': {
    marginLeft: -5,
    marginRight: -1,
    zIndex: 1,
    backgroundColor: theme.vars!.palette.tally.paper,
    color: theme.vars!.palette.text.primary,
    fontWeight: 650,
  },
  '& b': { fontSize: 12.5, color: theme.vars!.palette.primary.dark },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: -3 },
}));
const Sheet = styled('div')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) 317px',
  backgroundColor: theme.vars!.palette.tally.paper,
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  margin: '0 12px 12px 0',
  minHeight: 0,
  '&[data-folded]': { gridTemplateColumns: 'minmax(0, 1fr) 30px' },
  '@media print': { display: 'block', border: 0, margin: 0 },
}));
const Work = styled('main')({
  overflow: 'auto',
  minWidth: 0,
  '&:focus': { outline: 'none' },
  '@media print': { overflow: 'visible' },
});
const MarginColumn = styled('aside')(({ theme }) => ({
  borderLeft: `4px double ${theme.vars!.palette.tally.strong}`,
  overflow: 'auto',
  position: 'relative',
  '& > .inside': { padding: '14px 16px 20px' },
  '&[data-folded] > .inside': { display: 'none' },
  '@media print': { display: 'none' },
}));
const Fold = styled(IconButton)({ position: 'absolute', right: 2, bottom: 2, fontSize: 13, width: 26, height: 26 });

const Away = styled('div')(({ theme }) => ({
  position: 'sticky',
  top: 0,
  zIndex: 5,
  padding: '6px 24px',
  backgroundColor: theme.vars!.palette.error.main,
  color: theme.vars!.palette.error.contrastText,
  fontWeight: 600,
}));

const Past = styled('div')(({ theme }) => ({
  display: 'flex',
  alignItems: 'center',
  gap: 8,
  padding: '2px 4px 2px 10px',
  backgroundColor: theme.vars!.palette.tally.second,
  borderLeft: `3px solid ${theme.vars!.palette.tally.kept}`,
  fontSize: 14,
  whiteSpace: 'nowrap',
}));

/** The business day; pressed, a past day can be chosen that everything is shown as of. */
function LookBack({ today, past }: { today: string; past: string }) {
  const go = useNavigate();
  const { pathname, search } = useLocation();
  const onToday = () => {
    lookBackFrom('');
    // A report that named the day in its address comes back too.
    const params = new URLSearchParams(search);
    params.delete('asOf');
    void go({ pathname, search: params.toString() }, { replace: true });
  };
  const [choosing, setChoosing] = useState(false);
  const [day, setDay] = useState('');
  const close = () => {
    setChoosing(false);
    setDay('');
  };
  const take = () => {
    if (isDay(day)) lookBackFrom(day < today ? day : '');
    close();
  };
  if (choosing)
    return (
      <form
        onSubmit={(e) => {
          e.preventDefault();
          take();
        }}
        onKeyDown={(e) => e.key === 'Escape' && close()}
        style={{ display: 'flex', gap: 6 }}
      >
        <UnderstoodField
          kind="day"
          label="Show everything as of"
          bare
          placeholder="a past day"
          field="lookBack"
          value={day}
          onChange={setDay}
          autoFocus
          width={150}
        />
        <Button type="submit">Look back</Button>
        <Button onClick={close}>Cancel</Button>
      </form>
    );
  if (past)
    return (
      <Past role="status">
        As of the end of {showLongDay(past)}
        <Button onClick={() => setChoosing(true)}>Another day</Button>
        <Button onClick={onToday}>Back to today</Button>
      </Past>
    );
  return (
    <Day>
      <DayButton onClick={() => setChoosing(true)} title="Show everything as of a past day">
        {showLongDay(today)}
      </DayButton>
    </Day>
  );
}

const DayButton = styled('button')(({ theme }) => ({
  all: 'unset',
  cursor: 'pointer',
  padding: '4px 2px',
  '&:hover': { textDecoration: 'underline' },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}` },
}));

type Opened = 'what' | 'search' | 'keys' | 'firms';

/** The ledger page on the desk: places at the left, the margin at the right. */
export function Shell() {
  const session = useSession().data!;
  const [margin, setMargin] = useState<HTMLElement | null>(null);
  const [folded, setFolded] = useState(localStorage.getItem('margin') === 'folded');
  const [open, setOpen] = useState<Opened | null>(null);
  const [why, setWhy] = useState<WhyOf | null>(null);
  const [over, setOver] = useState(false);
  const client = useQueryClient();
  const desk = useDesk().data;
  useEffect(() => void loadPages(), []);
  const go = useNavigate();
  const may = useMay();
  // Who is in two is remembered in both; an owner of the first is told of all, when they ask.
  useFirms(session.firms && !(at === '' && may.has('unlock, set up and say who may do what')));
  const books = may.has('see the ledger, the bank and reports');
  const say = useSnackbar();
  const onNext = () => {
    const all = desk ? allEnds(desk, session.today) : [];
    const end = nextEnd(all);
    if (!end) return say('No loose ends.');
    beginEnd(all, end);
    void go(end.to);
  };
  // Where a figure comes from is the ledger's.
  const onWhy = useCallback((of: WhyOf | null) => setWhy(books ? of : null), [books]);
  useGlobalKeys(setOpen, onWhy, open !== null || why !== null || over, onNext);
  const past = useLookingBack();
  const away = useAway();
  const { pathname } = useLocation();
  // What could not be read while it was away is read now.
  useEffect(() => {
    const on = () => void client.refetchQueries({ type: 'active', predicate: (q) => q.state.status === 'error' || q.isStale() });
    heard.addEventListener('answers', on);
    return () => heard.removeEventListener('answers', on);
  }, [client]);

  useEffect(() => {
    const on = () => setOver(true);
    signedOut.addEventListener('signedOut', on);
    return () => signedOut.removeEventListener('signedOut', on);
  }, []);

  const fold = () => {
    localStorage.setItem('margin', folded ? 'open' : 'folded');
    setFolded(!folded);
  };
  return (
    <MarginPlace.Provider value={margin}>
      <Frame>
        <Skip href="#work" onClick={() => document.getElementById('work')?.focus()}>
          To the work
        </Skip>
        <Top className="no-print">
          <FirmMenu firm={session.firm} user={session.user} onFirms={() => setOpen('firms')} />
          <LookBack today={session.today} past={past} />
          <span style={{ flex: 1 }} />
          <FindButton onClick={() => setOpen('search')} aria-keyshortcuts="/">
            Find a name, number, amount <Key>/</Key>
          </FindButton>
          <Button variant="contained" onClick={() => setOpen('what')} aria-keyshortcuts="w">
            What happened? <Key>w</Key>
          </Button>
        </Top>
        <Tabs aria-label="Places">
          {places
            .filter((p) => may.go(p.to))
            .map((p) => (
              <Tab key={p.to} to={p.to}>
                {p.name}
                {p.to === '/desk' && desk && desk.count > 0 && <b aria-label={`${desk.count} loose ends`}>{desk.count}</b>}
              </Tab>
            ))}
        </Tabs>
        <Sheet data-folded={folded || undefined}>
          <Work id="work" tabIndex={-1}>
            {away && <Away role="alert">The program does not answer. What is here stays, and it goes on by itself.</Away>}
            {/* What stood then and what stands now are pages apart; what is written is written now. */}
            <Boundary at={pathname} key={asOfHere()}>
              <Suspense fallback={null}>{may.go(pathname) ? <Outlet /> : <NotYours />}</Suspense>
            </Boundary>
          </Work>
          <MarginColumn aria-label="Effect" data-folded={folded || undefined}>
            <div className="inside" ref={setMargin} />
            <Tooltip title={folded ? 'Show the Effect' : 'Fold the Effect away'}>
              <Fold onClick={fold} aria-label={folded ? 'Show the Effect' : 'Fold the Effect away'} aria-expanded={!folded}>
                {folded ? '‹' : '›'}
              </Fold>
            </Tooltip>
          </MarginColumn>
        </Sheet>
      </Frame>
      {open === 'what' && <WhatHappened onClose={() => setOpen(null)} />}
      {open === 'search' && <Search onClose={() => setOpen(null)} />}
      {why && <WhyDialog why={why} onClose={() => setWhy(null)} />}
      {open === 'firms' && <Firms onClose={() => setOpen(null)} />}
      {open === 'keys' && <KeyList onClose={() => setOpen(null)} />}
      <SignInAgain
        open={over}
        onDone={() => {
          setOver(false);
          void client.invalidateQueries();
        }}
      />
    </MarginPlace.Provider>
  );
}

/** What is shown at an address that is not for who asks. */
function NotYours() {
  return (
    <Page>
      <PageHead title="Not yours to look at" under="Ask an owner of the firm where you need it. Choose a place at the left." />
    </Page>
  );
}

function useGlobalKeys(setOpen: (what: Opened) => void, setWhy: (why: WhyOf) => void, busy: boolean, next: () => void) {
  const go = useNavigate();
  const mayGo = useMay().go;
  const leader = useRef(0); // when g was pressed: kept while screens change under it
  const onKey = useEffectEvent((e: KeyboardEvent) => {
    if (busy) {
      if (e.key === 'Enter' && e.repeat) e.preventDefault();
      return;
    }
    if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
      // A key that is held down says it once.
      if (e.repeat || runPrimary()) e.preventDefault();
      return;
    }
    if (e.key === 'Escape' && !e.defaultPrevented) {
      if (typing(e)) (e.target as HTMLElement).blur();
      else runBack();
      return;
    }
    // From inside a field too: what happened is never far.
    if (e.key.toLowerCase() === 'w' && e.ctrlKey) {
      e.preventDefault();
      setOpen('what');
      return;
    }
    if (
      typing(e) ||
      e.ctrlKey ||
      e.metaKey ||
      e.altKey ||
      document.querySelector('[role="dialog"], [role="menu"], [role="listbox"]')
    )
      return;
    if (Date.now() - leader.current < 1500) {
      leader.current = 0;
      if (e.key === 'f') {
        e.preventDefault();
        setOpen('firms');
        return;
      }
      const place = places.find((p) => p.key === e.key);
      if (place && mayGo(place.to)) {
        e.preventDefault();
        void go(place.to);
      }
      return;
    }
    if (e.key === 'n') {
      e.preventDefault();
      next();
      return;
    }
    if (e.key === 'g') leader.current = Date.now();
    const onFigure = e.key === 'Enter' && document.activeElement?.matches('[role="button"][data-why]');
    const meant = (e.key === 'y' || onFigure) && figureMeant();
    if (meant) setWhy(meant);
    const opens = ({ w: 'what', '/': 'search', '?': 'keys' } as const)[e.key];
    if (opens) {
      e.preventDefault();
      setOpen(opens);
    }
  });
  // Before the first picture: who sees the places may press their keys.
  useLayoutEffect(() => {
    const listener = (e: KeyboardEvent) => onKey(e);
    window.addEventListener('keydown', listener);
    return () => window.removeEventListener('keydown', listener);
  }, []);

  useEffect(() => {
    const onClick = (e: MouseEvent) => {
      const figure = (e.target as HTMLElement).closest<HTMLElement>('[data-why]');
      const taken =
        (e.target as HTMLElement).closest('a, button') ?? (!figure?.closest('[data-list]') && figure?.closest('tr[data-row]'));
      if (figure?.dataset.why && !taken) setWhy(JSON.parse(figure.dataset.why) as WhyOf);
    };
    window.addEventListener('click', onClick);
    return () => window.removeEventListener('click', onClick);
  }, [setWhy]);
}

function FirmMenu({ firm, user, onFirms }: { firm: string; user: string; onFirms: () => void }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const { mode, setMode } = useColorScheme();
  const [comfortable, setComfortable] = useState(localStorage.getItem('rows') === 'comfortable');
  const setRows = (now: boolean) => {
    localStorage.setItem('rows', now ? 'comfortable' : 'dense');
    setComfortable(now);
  };
  useEffect(() => {
    document.documentElement.dataset.rows = comfortable ? 'comfortable' : 'dense';
  }, [comfortable]);
  const go = useNavigate();
  const may = useMay();
  const client = useQueryClient();
  const location = useLocation();
  const [before, setBefore] = useState(location.pathname);
  if (before !== location.pathname) {
    setBefore(location.pathname);
    // The bare address leads to the Desk once that is loaded: a menu that was opened meanwhile stays.
    if (before !== '/') setAt(null);
  }
  const signOut = async () => {
    await api.DELETE('/api/v1/session');
    client.clear();
    await client.invalidateQueries({ queryKey: ['session'] });
    window.location.assign(under('/'));
  };
  return (
    <>
      <FirmButton onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu" aria-expanded={at !== null} title="Setup and more">
        {firm}
      </FirmButton>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        <MenuItem onClick={() => go(may.go('/setup/firm') ? '/setup/firm' : '/setup/me')}>Setup</MenuItem>
        <MenuItem onClick={() => go('/setup/me')}>My sign-in</MenuItem>
        <MenuItem
          onClick={() => {
            setAt(null);
            onFirms();
          }}
        >
          Other firms <Key>g f</Key>
        </MenuItem>
        <MenuItem onClick={() => setMode(mode === 'dark' ? 'light' : 'dark')}>{mode === 'dark' ? 'Light' : 'Dark'}</MenuItem>
        <MenuItem onClick={() => setMode('system')}>As the system</MenuItem>
        <MenuItem onClick={() => setRows(!comfortable)}>{comfortable ? 'Dense rows' : 'Comfortable rows'}</MenuItem>
        <MenuItem onClick={signOut}>Sign out {user}</MenuItem>
      </Menu>
    </>
  );
}
