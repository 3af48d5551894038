import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Component, type ReactNode } from 'react';
import { inTab, under } from '../api/at';
import { Page } from '../parts/Layout';

interface Props {
  /** Where it stands: going elsewhere tries again. */
  at: string;
  children: ReactNode;
}

interface State {
  error: Error | null;
  at: string;
}

const reloadedFor = 'reloaded';

/** Whether a part of the program is gone from the server: another version runs there now. */
function isOld(error: Error): boolean {
  return /dynamically imported module|Importing a module script|module script failed|Unable to preload/i.test(error.message);
}

/** Keeps what goes wrong in a page to that page, with a way out. */
export class Boundary extends Component<Props, State> {
  override state: State = { error: null, at: this.props.at };

  static getDerivedStateFromError(error: Error): Partial<State> {
    return { error };
  }

  static getDerivedStateFromProps(props: Props, state: State): Partial<State> | null {
    return props.at === state.at ? null : { at: props.at, error: null };
  }

  override componentDidCatch(error: Error) {
    // Once for an address: a page that stays missing is told.
    if (!isOld(error) || inTab.getItem(reloadedFor) === this.props.at) return;
    inTab.setItem(reloadedFor, this.props.at);
    window.location.reload();
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    // It loads itself again in a moment: nothing that could be pressed comes in between.
    if (isOld(error) && inTab.getItem(reloadedFor) !== this.props.at) return null;
    return (
      <Page role="alert">
        <Typography variant="h1">{isOld(error) ? 'The program was renewed' : 'This page could not be shown'}</Typography>
        <Typography>
          {isOld(error)
            ? 'This window still has the version before. Load it again to go on; drafts are kept.'
            : 'Nothing was changed, and drafts are kept. Load the page again, or go to the Desk.'}
        </Typography>
        <div style={{ display: 'flex', gap: 10 }}>
          <Button variant="contained" onClick={() => window.location.reload()}>
            Load again
          </Button>
          <Button variant="outlined" onClick={() => window.location.assign(under('/desk'))}>
            To the Desk
          </Button>
        </div>
      </Page>
    );
  }
}
