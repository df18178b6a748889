import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { queryClient } from './api/queries';
import { router } from './router';
import { Announcer } from './ui/announce';
import { keepFocus } from './ui/focus/keeper';
import { TypedGuard } from './ui/focus/typed-guard';
import { Look } from './ui/theme';

/** The bench is loaded while nothing else is to be done, so that it opens at once. */
const BENCH_AT_HAND_MS = 1500;
window.setTimeout(() => void import('./bench/reference-bench'), BENCH_AT_HAND_MS);

keepFocus();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <Look>
        <RouterProvider router={router} />
        <Announcer />
        <TypedGuard />
      </Look>
    </QueryClientProvider>
  </StrictMode>,
);
