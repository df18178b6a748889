import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { queryClient } from './api/queries';
import { router } from './router';
import { Look } from './ui/theme';

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <Look>
        <RouterProvider router={router} />
      </Look>
    </QueryClientProvider>
  </StrictMode>,
);
