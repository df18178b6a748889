import { type AnswerOf, type BodyOf, type ParamsOf, type Refusal, type RouteName, pathOf } from '@sobrin/contracts';
import { type Problem } from '@sobrin/core/topology';
import { sessionEnded } from './session';

/** A refusal of the server, or no answer at all (`status` 0). */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly problems: Problem[] = [],
    readonly body: unknown = null,
  ) {
    super(message);
  }
}

/** What follows the name of a route: what stands in its path, and its body; neither where it has none. */
type Wanted<Name extends RouteName> = [BodyOf<Name>] extends [never]
  ? keyof ParamsOf<Name> extends never
    ? []
    : [params: ParamsOf<Name>]
  : [params: ParamsOf<Name>, body: BodyOf<Name>];

/** One request to the API by a route of the contracts. Refusals come as ApiError with the server's sentence. */
export async function api<Name extends RouteName>(name: Name, ...wanted: Wanted<Name>): Promise<AnswerOf<Name>> {
  const [params, body] = wanted as [ParamsOf<Name>?, BodyOf<Name>?];
  const { method, path } = pathOf(name, params ?? ({} as ParamsOf<Name>));
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, {
      method,
      headers: { 'x-sobrin-request': '1', ...(body !== undefined && { 'content-type': 'application/json' }) },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
  } catch {
    throw new ApiError(
      0,
      'Sobrin’s server does not answer. Your changes are kept in this browser and sent when it is back.',
    );
  }
  const text = await response.text();
  const json: unknown = text && response.headers.get('content-type')?.includes('json') ? JSON.parse(text) : null;
  if (response.ok) return json as AnswerOf<Name>;
  const refusal = json as Refusal | null;
  // Signing in is refused with the same status, and is no end of anything.
  if (response.status === 401 && !path.startsWith('auth/')) sessionEnded(true);
  throw new ApiError(
    response.status,
    refusal?.message ?? `The server answered with status ${response.status}. Try again.`,
    refusal?.problems ?? [],
    json,
  );
}
