import { TextInput } from '../ui/fields';

/** A number in the sentence of a rule; undefined where the field is empty. */
export function RuleNumber({
  label,
  value,
  shape,
  problem,
  empty,
  onSet,
}: {
  label: string;
  value: number | undefined;
  /** What is taken; decimals with a point or a comma. */
  shape: RegExp;
  /** What is said of anything else. */
  problem: string;
  /** What stands in the empty field. */
  empty: string;
  onSet: (value: number | undefined) => void;
}) {
  return (
    <span className="number">
      <TextInput
        label={label}
        mono
        placeholder={empty}
        value={value === undefined ? '' : String(value)}
        strict
        check={(text) => (shape.test(text) ? null : problem)}
        onCommit={(text) => {
          if (text === '') onSet(undefined);
          else if (shape.test(text)) onSet(Number(text.replace(',', '.')));
        }}
      />
    </span>
  );
}
