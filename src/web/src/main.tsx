import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Unreachable } from './api/client';
import { App } from './app/App';
import './index.css';

const queries = new QueryClient({
  defaultOptions: {
    // The server may be on this machine: whether there is a network says nothing.
    queries: { retry: (times, error) => error instanceof Unreachable && times < 2, staleTime: 5_000, networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
});

createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);
