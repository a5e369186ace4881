import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Gate } from './app/Gate';
import { makeQueries } from './data/queries';
import { Toasts } from './kit/Toasts';
import './index.css';

const queries = makeQueries();

const place = document.getElementById('root');
if (place)
  createRoot(place).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <Gate />
        <Toasts />
      </QueryClientProvider>
    </StrictMode>,
  );
