import { type ResultsView } from '@sobrin/contracts';
import { Bar, BarChart, LabelList, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { points } from '../ui/words';
import { distribution } from './statistics';

/** How many students reached which marks. */
export function MarksChart({ results }: { results: ResultsView }) {
  const data = distribution(results).map(({ from, to, names }) => ({
    span: `${points(from)}–${points(to)}`,
    from: points(from),
    count: names.length,
    names: names.join(', '),
  }));
  return (
    <figure
      style={{ margin: 0 }}
      aria-label={`Distribution of marks: ${data
        .filter((bar) => bar.count)
        .map((bar) => `${bar.count} from ${bar.span}`)
        .join('; ')}`}
    >
      <ResponsiveContainer width="100%" height={190}>
        <BarChart data={data} margin={{ top: 16, right: 4, bottom: 0, left: 4 }} barCategoryGap={3}>
          <XAxis
            dataKey="from"
            interval={0}
            tick={{ fontSize: 11, fill: 'var(--ink2)' }}
            stroke="var(--line2)"
            tickLine={false}
          />
          <YAxis
            width={28}
            allowDecimals={false}
            tick={{ fontSize: 11, fill: 'var(--ink2)' }}
            stroke="var(--line2)"
            tickLine={false}
          />
          <Tooltip
            cursor={{ fill: 'var(--sunk)' }}
            content={({ active, payload }) => {
              const bar = payload?.[0]?.payload as (typeof data)[number] | undefined;
              return active && bar?.count ? (
                <div
                  style={{
                    background: 'var(--ink)',
                    color: 'var(--surface)',
                    padding: '4px 8px',
                    borderRadius: 6,
                    maxWidth: 260,
                    fontSize: 12,
                  }}
                >
                  {bar.span}: {bar.names}
                </div>
              ) : null;
            }}
          />
          <Bar dataKey="count" fill="var(--spruce)" radius={[3, 3, 0, 0]} isAnimationActive={false}>
            <LabelList
              dataKey="count"
              position="top"
              fontSize={11}
              fill="var(--ink2)"
              formatter={(value) => (value === 0 ? '' : String(value))}
            />
          </Bar>
        </BarChart>
      </ResponsiveContainer>
      <figcaption style={{ fontSize: 12, color: 'var(--ink2)' }}>
        Students by points: each step begins with the number under it, the last one ends with {points(results.of)}.
      </figcaption>
    </figure>
  );
}
