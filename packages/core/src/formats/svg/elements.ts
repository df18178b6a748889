import { xmlText } from '../xml';

/** Advances of letters at one pixel of size, the mean: for cutting what is too long. */
export const ADVANCE = 0.585;

export const n = (value: number): string => String(Math.round(value * 100) / 100);
export type Attributes = Readonly<Record<string, string | number | undefined>>;
export const tag = (name: string, attributes: Attributes, inside = ''): string => {
  const written = Object.entries(attributes)
    .flatMap(([key, value]) =>
      value === undefined ? [] : ` ${key}="${typeof value === 'number' ? n(value) : xmlText(value)}"`,
    )
    .join('');
  return inside ? `<${name}${written}>${inside}</${name}>` : `<${name}${written}/>`;
};

export function cut(text: string, room: number, size: number): string {
  const most = Math.max(1, Math.floor(room / (size * ADVANCE)));
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}
