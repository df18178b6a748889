import { type ROUTES, type Route, type RouteName } from './routes';

// A file of its own, without the classes of the requests: pages load it, and check nothing themselves.

export type BodyOf<Name extends RouteName> = (typeof ROUTES)[Name] extends Route<infer Body> ? Body : never;
export type AnswerOf<Name extends RouteName> =
  (typeof ROUTES)[Name] extends Route<infer _Body, infer Answer> ? Answer : never;

type Parts<Path> = Path extends `${infer First}/${infer Rest}` ? First | Parts<Rest> : Path;
type Placeholder<Part> = Part extends `${string}:${infer Key}` ? Key : never;
/** What stands in the path of a route: `{ id }` for "GET labs/:id". */
export type ParamsOf<Name extends RouteName> = { [Key in Placeholder<Parts<Name>>]: string };

/** The method of a route, and its path with what stands in it. */
export function pathOf<Name extends RouteName>(name: Name, params: ParamsOf<Name>): { method: string; path: string } {
  const [method, pattern] = name.split(' ') as [string, string];
  const values: Readonly<Record<string, string>> = params;
  return { method, path: pattern.replace(/:([a-z]+)/g, (_all, key: string) => encodeURIComponent(values[key]!)) };
}
