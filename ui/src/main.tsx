import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Problem } from './api/client';
import { App } from './app/App';
import { MessagesProvider } from './app/messages';
import { theme } from './theme';

// The nonce that the server gave this page lets emotion add its styles.
const nonce = document.querySelector<HTMLElement>('script[nonce]')?.nonce;
const cache = createCache({ key: 'ct', nonce });

const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (n, error) => n < 2 && !(error instanceof Problem && error.status >= 400 && error.status < 500),
      staleTime: 0,
      refetchOnWindowFocus: true,
    },
  },
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <CacheProvider value={cache}>
      <ThemeProvider theme={theme} defaultMode="system">
        <CssBaseline />
        <QueryClientProvider client={client}>
          <MessagesProvider>
            <BrowserRouter>
              <App />
            </BrowserRouter>
          </MessagesProvider>
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>
  </StrictMode>,
);
