import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { RouterProvider } from '@tanstack/react-router';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { router } from './app/routes';
import { Refusal } from './lib/api';
import './index.css';

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // A refusal stays one; only a server that is away is worth asking again.
      retry: (count, error) => count < 2 && error instanceof Refusal && (error.status === 0 || error.status >= 500),
    },
  },
});

queries.getQueryCache().subscribe(({ type, query }) => {
  const refused = type === 'updated' && query.state.error instanceof Refusal ? query.state.error : undefined;
  if (refused?.status === 401 && query.queryKey[0] !== 'session') void queries.invalidateQueries({ queryKey: ['session'] });
});

const place = document.getElementById('root');
if (place)
  createRoot(place).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );
