import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Refused } from './api/client.ts';
import { App } from './app.tsx';
import { forgetOldDrafts } from './ui/useKept.ts';
import './styles.css';

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // This page's server is on this machine: it answers whether there is a network or not.
      networkMode: 'always',
      // What does not answer is tried until it does, and what was shown stays; what the server refuses stays refused.
      retry: (count, error) => error instanceof Refused && (error.status === 0 || (error.status >= 500 && count < 5)),
      retryDelay: (count) => Math.min(4_000, 300 * 2 ** count),
    },
    mutations: { networkMode: 'always' },
  },
});

forgetOldDrafts();

const page = document.getElementById('page');
if (page) {
  createRoot(page).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
}
