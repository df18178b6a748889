import { ChangeLabRequest, ROUTES, SaveRequest, routeOf } from '@sobrin/contracts';
import { PlanCommand } from '@sobrin/core/plan';
import { LabFile, PartCommand } from '@sobrin/core/spec';
import { Command, shapeProblems } from '@sobrin/core/topology';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { type RenderResult, render } from '@testing-library/react';
import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import { type ReactElement } from 'react';
import { forgetUnsent } from '../documents/unsent';
import { MemoryRouter, Outlet, Route, Routes } from 'react-router';

export interface Call {
  method: string;
  path: string;
  body: unknown;
}
type Answer = { status?: number; body?: unknown };

// No document that one test has open is found by the next.
beforeEach(forgetUnsent);

/** What the server would refuse of the requests of a test: a test in which there is any fails, whatever it expected. */
const refused: string[] = [];
afterEach(() => expect(refused.splice(0)).toEqual([]));

/** Why the server would not take a request; an empty list where it would. */
function refusals(method: string, path: string, sent: unknown): string[] {
  const name = routeOf(method, path);
  if (!name) return [`There is no route ${method} ${path}.`];
  const { body } = ROUTES[name];
  if (!body) return sent === undefined ? [] : [`${name} takes no body.`];
  if (sent === undefined) return [`${name} takes a ${body.name}, and nothing was sent.`];
  const request = plainToInstance<object, unknown>(body, sent);
  const wrong = validateSync(request, { whitelist: true, forbidNonWhitelisted: true });
  return [...wrong.map((error) => `${name}: ${error.toString()}`), ...documentProblems(request)];
}

/** What the schemas of the documents say of those that a request holds. */
function documentProblems(request: object): string[] {
  const problems =
    request instanceof SaveRequest
      ? request.commands.flatMap((command) => {
          const wrong = [Command, PlanCommand, PartCommand].map((schema) => shapeProblems(schema, command));
          return wrong.some((problems) => !problems.length) ? [] : wrong[0]!;
        })
      : request instanceof ChangeLabRequest
        ? (['brief', 'tasks', 'spec', 'policy'] as const).flatMap((part) =>
            request[part] === undefined ? [] : shapeProblems(LabFile.properties[part], request[part]),
          )
        : [];
  return problems.map(({ place, text }) => `${place}: ${text}`);
}

/** An answer to what a page sends, which was checked against the contract before: a test may say of which class it is. */
type Reply = { made(body: unknown): Answer }['made'];

/**
 * A stand-in for the server: answers by "METHOD path", and the calls that were made. It takes what the server takes, and
 * answers only where the server has a route.
 */
export function serve(answers: Record<string, Answer | Reply>): Call[] {
  for (const key of Object.keys(answers)) {
    const [method, path] = key.split(' ') as [string, string];
    if (!routeOf(method, path)) throw new Error(`The API has no route ${key}.`);
  }
  const calls: Call[] = [];
  globalThis.fetch = ((url: string, { method = 'GET', body }: RequestInit = {}) => {
    const path = url.replace(/^\/api\//, '');
    const read: unknown = typeof body === 'string' ? JSON.parse(body) : undefined;
    calls.push({ method, path, body: read });
    refused.push(...refusals(method, path, read));
    const answer = answers[`${method} ${path}`];
    const { status = 200, body: given } =
      typeof answer === 'function'
        ? answer(read)
        : (answer ?? { status: 404, body: { message: `Nothing answers ${method} ${path}.` } });
    // A line that is dead.
    if (status === 0) return Promise.reject(new TypeError('Failed to fetch'));
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
  const client = new QueryClient({
    defaultOptions: { queries: { retry: false, networkMode: 'always' }, mutations: { networkMode: 'always' } },
  });
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
