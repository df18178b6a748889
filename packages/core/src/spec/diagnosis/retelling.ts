import { type Configured } from './configured';

/** What a drawing has in the place of numbers and names of the reference; null where none can be told. */
export interface Terms {
  port(role: string, key: string): string;
  interfaceKey(role: string, key: string): string;
  vlan(id: number): number;
  address(text: string): string | null;
  prefix(text: string): string | null;
}

/** Numbers and names of the reference in a value, as the drawing has them. */
export class Words {
  constructor(
    private readonly terms: Terms,
    private readonly role: string,
    private readonly filters: ReadonlyMap<string, string>,
  ) {}
  /** @param theirs what stands there where something of it cannot be told */
  of(value: unknown, theirs: unknown): unknown {
    try {
      return this.told(value, '');
    } catch (error) {
      if (error instanceof Untold) return theirs;
      throw error;
    }
  }
  private told(value: unknown, key: string): unknown {
    if (typeof value === 'number') return VLAN_KEYS.has(key) ? this.terms.vlan(value) : value;
    if (typeof value === 'string') return this.text(value, key);
    if (Array.isArray(value)) return value.map((each) => this.told(each, key));
    if (value === null || typeof value !== 'object') return value;
    return Object.fromEntries(
      Object.entries(value).map(([property, inner]) => [
        key === 'filters' ? (this.filters.get(property) ?? property) : property,
        this.told(inner, property === 'vlans' ? 'vlans' : property),
      ]),
    );
  }
  private text(text: string, key: string): string {
    if (FILTER_KEYS.has(key)) return this.filters.get(text) ?? text;
    if (INTERFACE_KEYS.has(key)) return this.terms.interfaceKey(this.role, text);
    if (key === 'port' || key === 'members') return this.terms.port(this.role, text);
    if (key === 'sources' && this.filters.has(text)) return this.filters.get(text)!;
    if (!/^[0-9a-f]*[.:][0-9a-f.:]*(?:\/\d+)?$/i.test(text) || key === 'wildcard' || key === 'mac') return text;
    const told = text.includes('/') ? this.terms.prefix(text) : this.terms.address(text);
    if (told === null) throw new Untold();
    return told;
  }
}
class Untold extends Error {}
const VLAN_KEYS: ReadonlySet<string> = new Set(['vlan', 'accessVlan', 'voiceVlan', 'native', 'allowed', 'vlans']);
const INTERFACE_KEYS: ReadonlySet<string> = new Set(['interface', 'outsideInterface', 'interfaces']);
const FILTER_KEYS: ReadonlySet<string> = new Set(['filterIn4', 'filterOut4', 'filterIn6', 'filterOut6', 'filter']);

/** Which filter of whoever plays a role stands for which of the reference: by where it is applied, else by its name. */
export function filtersBy(
  terms: Terms,
  role: string,
  wanted: Configured,
  has: Configured | undefined,
): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  for (const [key, asked] of Object.entries(wanted.interfaces)) {
    const own = has?.interfaces[terms.interfaceKey(role, key)];
    for (const property of ['filterIn4', 'filterOut4', 'filterIn6', 'filterOut6'] as const) {
      const [one, other] = [asked[property], own?.[property]];
      if (one !== undefined && other !== undefined && !found.has(one) && ![...found.values()].includes(other))
        found.set(one, other);
    }
  }
  return found;
}

export function vlanNames(
  terms: Terms,
  wanted: Readonly<Record<string, string>>,
  theirs: Readonly<Record<string, string>> | undefined,
): Record<string, string> {
  return Object.fromEntries(
    Object.entries(wanted).map(([id, name]) => {
      const own = String(terms.vlan(Number(id)));
      return [own, theirs?.[own] ?? name];
    }),
  );
}
