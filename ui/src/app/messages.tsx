import Button from '@mui/material/Button';
import Snackbar from '@mui/material/Snackbar';
import { createContext, useCallback, useContext, useState, type ReactNode } from 'react';

interface Message {
  text: string;
  action?: string;
  onAction?: () => void;
}

type Say = (text: string, action?: string, onAction?: () => void) => void;

const Messages = createContext<Say>(() => undefined);

/** Says something in passing, with a way to act on it. */
export function useSnackbar(): Say {
  return useContext(Messages);
}

export function MessagesProvider({ children }: { children: ReactNode }) {
  const [message, setMessage] = useState<Message | null>(null);
  const [open, setOpen] = useState(false);
  const say = useCallback<Say>((text, action, onAction) => {
    setMessage({ text, action, onAction });
    setOpen(true);
  }, []);
  return (
    <Messages.Provider value={say}>
      {children}
      <Snackbar
        open={open}
        autoHideDuration={7000}
        onClose={(_, reason) => reason !== 'clickaway' && setOpen(false)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        message={message?.text}
        action={
          message?.action && (
            <Button
              color="inherit"
              onClick={() => {
                setOpen(false);
                message.onAction?.();
              }}
            >
              {message.action}
            </Button>
          )
        }
      />
    </Messages.Provider>
  );
}
