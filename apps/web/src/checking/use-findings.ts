import { type Plan } from '@sobrin/core/plan';
import { type CheckResult } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { useMemo, useState } from 'react';
import { devicesOf, firstOpen, marksOf, sortedItems, type Item } from './findings';
import { useShortcuts } from '../ui/keys/shortcuts';

/** The drawing walks from tile to tile by itself. */
const TILE = '.react-flow__node';

/** Which requirement is looked at, where it points to, and what is shown beside; the keys walk through them. */
export function useFindings(
  result: Pick<CheckResult, 'sections' | 'requirements'>,
  { topology, plan }: { topology: Topology; plan: Plan | null },
  /** Brings devices into sight. */
  onReveal: (devices: string[]) => void,
) {
  const isDrawn = Object.keys(topology.devices).length > 0;
  const [chosen, setChosen] = useState<string | null>(() => firstOpen(result));
  const [opened, setOpened] = useState<ReadonlySet<string>>(
    () =>
      new Set(
        result.sections
          .filter((section) =>
            result.requirements.some(
              (requirement) => requirement.section === section.id && requirement.verdict !== 'met',
            ),
          )
          .map((section) => section.id),
      ),
  );
  /** Where items point to; null where they point nowhere. */
  const sideOf = (items: readonly Item[]): 'drawing' | 'plan' | null => {
    const places = items.flatMap((item) => item.places);
    if (plan && places.some((place) => place.block !== undefined)) return 'plan';
    return places.length ? 'drawing' : null;
  };
  const itemsOf = (id: string | null): readonly Item[] =>
    result.requirements.find((requirement) => requirement.id === id)?.items ?? [];
  const [looksAt, setLooksAt] = useState<'drawing' | 'plan'>(() =>
    plan && !isDrawn ? 'plan' : (sideOf(itemsOf(chosen)) ?? 'drawing'),
  );
  const [place, setPlace] = useState<Item | null>(null);
  const requirement = result.requirements.find((requirement) => requirement.id === chosen) ?? null;
  const marks = useMemo(
    () => marksOf(place ? [place] : (requirement?.items.filter((item) => item.met !== true) ?? [])),
    [requirement, place],
  );
  /** What is to be seen: where the requirement is not met, else everything it speaks of. */
  const focus = useMemo(() => {
    const items = place ? [place] : (requirement?.items ?? []);
    const unmet = items.filter((item) => item.met !== true);
    return devicesOf(unmet.length ? unmet : items, topology);
  }, [requirement, place, topology]);
  /** Whose packet is followed: of what one looks at, else the first that is not met and has one. */
  const followed = place ?? sortedItems(requirement?.items ?? []).find(({ packet }) => packet !== undefined) ?? null;
  const choose = (id: string): void => {
    setChosen(id);
    setPlace(null);
    setLooksAt((now) => sideOf(itemsOf(id)) ?? now);
    const section = result.requirements.find((requirement) => requirement.id === id)?.section;
    if (section !== undefined) setOpened((now) => new Set([...now, section]));
  };
  const step = (by: number): void => {
    const ids = result.requirements.map((requirement) => requirement.id);
    const next = ids[Math.min(ids.length - 1, Math.max(0, ids.indexOf(chosen ?? '') + by))];
    if (next !== undefined) choose(next);
  };
  const blocks = (place ? [place] : (requirement?.items.filter((item) => item.met !== true) ?? [])).flatMap((item) =>
    item.places.flatMap((place) => place.block ?? []),
  );
  const show = (item: Item): void => {
    setPlace(item);
    setLooksAt((now) => sideOf([item]) ?? now);
    onReveal(devicesOf([item], topology));
  };
  const showSection = (nth: number): void => {
    const section = result.sections[nth - 1];
    const inSection = result.requirements.filter((each) => each.section === section?.id);
    const first = inSection.find((each) => each.verdict !== 'met') ?? inSection[0];
    if (first) choose(first.id);
  };
  useShortcuts([
    {
      id: 'plan-or-drawing',
      text: 'Plan or drawing',
      keys: 'P',
      off: !plan,
      run: () => setLooksAt(looksAt === 'plan' ? 'drawing' : 'plan'),
    },
    {
      id: 'requirement',
      text: 'Requirement after or before',
      keys: ['ArrowDown', 'ArrowUp'],
      butIn: TILE,
      run: (chord) => step(chord === 'ArrowDown' ? 1 : -1),
    },
    {
      id: 'section',
      text: 'Section by its number',
      keys: Array.from({ length: 9 }, (_one, at) => String(at + 1)),
      run: (chord) => showSection(Number(chord)),
    },
  ]);
  return {
    chosen,
    choose,
    requirement,
    opened,
    toggle: (id: string) =>
      setOpened((now) => new Set(now.has(id) ? [...now].filter((each) => each !== id) : [...now, id])),
    looksAt,
    lookAtOther: () => setLooksAt(looksAt === 'plan' ? 'drawing' : 'plan'),
    marks,
    focus,
    followed,
    blocks,
    show,
    isDrawn,
  };
}
