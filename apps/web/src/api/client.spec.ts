import { type ApiError, api } from './client';
import { fileName } from './files';
import { newId, newShortId } from './new-id';

const answer = (status: number, body: string, type = 'application/json'): void => {
  globalThis.fetch = (() =>
    Promise.resolve({
      ok: status < 400,
      status,
      headers: { get: () => type },
      text: () => Promise.resolve(body),
    })) as unknown as typeof fetch;
};
const caught = async (): Promise<ApiError> =>
  api('GET courses').then(
    () => {
      throw new Error('It was no refusal.');
    },
    (error: unknown) => error as ApiError,
  );

test('what the server says in a refusal arrives as it is, with its places', async () => {
  answer(
    422,
    JSON.stringify({ message: 'The file was not taken.', problems: [{ place: 'devices', text: 'Too many.' }] }),
  );
  expect(await caught()).toMatchObject({
    status: 422,
    message: 'The file was not taken.',
    problems: [{ place: 'devices', text: 'Too many.' }],
  });
});
test('an answer that is no JSON still gives a sentence', async () => {
  answer(502, '<html>Bad gateway</html>', 'text/html');
  expect((await caught()).message).toBe('The server answered with status 502. Try again.');
});
test('no answer at all is status 0, and says that nothing is lost', async () => {
  globalThis.fetch = () => Promise.reject(new TypeError('network'));
  expect(await caught()).toMatchObject({ status: 0, message: expect.stringMatching(/kept in this browser/) as string });
});
test('an empty answer is nothing, not an error', async () => {
  answer(204, '');
  expect(await api('POST auth/sign-out')).toBeNull();
});

test('a file name comes from a title', () => {
  expect([
    fileName('Three Stations', 'json'),
    fileName('Übung 3: Köln / Süd', 'csv'),
    fileName(' ?! ', 'json'),
  ]).toEqual(['three-stations.json', 'übung-3-köln-süd.csv', 'sobrin.json']);
});
test('ids are UUIDs of version 4, and no two are alike', () => {
  const ids = Array.from({ length: 200 }, newId);
  expect(new Set(ids).size).toBe(200);
  for (const id of ids) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  expect(newShortId('d')).toMatch(/^d[0-9a-f]{10}$/);
});
