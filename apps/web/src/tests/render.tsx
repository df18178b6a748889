import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { type RenderResult, render } from '@testing-library/react';
import { type ReactElement } from 'react';
import { MemoryRouter, Outlet, Route, Routes } from 'react-router';

export interface Call {
  method: string;
  path: string;
  body: unknown;
}
type Answer = { status?: number; body?: unknown };

/** A stand-in for the server: answers by "METHOD path", and the calls that were made. */
export function serve(answers: Record<string, Answer | ((body: never) => Answer)>): Call[] {
  const calls: Call[] = [];
  globalThis.fetch = ((url: string, { method = 'GET', body }: RequestInit = {}) => {
    const path = url.replace(/^\/api\//, '');
    const read: unknown = typeof body === 'string' ? JSON.parse(body) : undefined;
    calls.push({ method, path, body: read });
    const answer = answers[`${method} ${path}`];
    const { status = 200, body: given } =
      typeof answer === 'function'
        ? answer(read as never)
        : (answer ?? { status: 404, body: { message: `Nothing answers ${method} ${path}.` } });
    const text = given === undefined ? '' : JSON.stringify(given);
    return Promise.resolve({
      ok: status < 400,
      status,
      headers: { get: () => 'application/json' },
      text: () => Promise.resolve(text),
    });
  }) as unknown as typeof fetch;
  return calls;
}

/** Renders a page inside what all pages have around them; `lab` is what a station of a lab finds there. */
export function show(
  page: ReactElement,
  { lab, path = '/', at = path }: { lab?: unknown; path?: string; at?: string } = {},
): RenderResult {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[at]}>
        <Routes>
          <Route element={<Outlet context={lab} />}>
            <Route path={path} element={page} />
          </Route>
          <Route path="*" element={<p>another page</p>} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

/** jsdom has no sizes: elements of a page's size, so that the rows of long tables are in sight. */
export function sizePage(): void {
  Object.defineProperty(HTMLElement.prototype, 'clientHeight', { configurable: true, value: 600 });
  Object.defineProperty(HTMLElement.prototype, 'clientWidth', { configurable: true, value: 800 });
}
