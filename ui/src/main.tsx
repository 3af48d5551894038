import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { hashKey, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { at, here } from './api/at';
import { Problem } from './api/client';
import { App } from './app/App';
import { loadDesk } from './app/pages';
import { MessagesProvider } from './app/messages';
import { asOfHere } from './parts/asOf';
import { deskQuery, lastingKeys, sessionQuery } from './parts/records';
import { theme } from './theme';

// The nonce that the server gave this page lets emotion add its styles.
const nonce = document.querySelector<HTMLElement>('script[nonce]')?.nonce;
const cache = createCache({ key: 'ct', nonce });

const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (n, error) => n < 2 && !(error instanceof Problem && error.status >= 400 && error.status < 500),
      staleTime: 0,
      // What is shown of a past day is kept apart from what is so now.
      queryKeyHashFn: (key) => hashKey(lastingKeys.includes(String(key[0])) ? key : [asOfHere(), ...key]),
      refetchOnWindowFocus: true,
    },
  },
});

// What the first page needs is asked for at once, not one after another.
void client.prefetchQuery(sessionQuery);
if (['/', '/desk'].includes(here())) {
  void loadDesk();
  void client.prefetchQuery(deskQuery);
}

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <CacheProvider value={cache}>
      <ThemeProvider theme={theme} defaultMode="system">
        <CssBaseline />
        <QueryClientProvider client={client}>
          <MessagesProvider>
            <BrowserRouter basename={at}>
              <App />
            </BrowserRouter>
          </MessagesProvider>
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>
  </StrictMode>,
);
