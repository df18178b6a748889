import { type SubnetNeed } from '@sobrin/core/plan';
import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';

/** Addresses now, later and the capacity of the smallest subnet that fits, for each group. */
export function SizesChart({ needs }: { needs: readonly SubnetNeed[] }) {
  const data = needs.map((need) => ({
    name: need.site === undefined ? need.name : `${need.name}, ${need.site}`,
    short: need.name,
    now: need.now.value,
    later: need.later.value - need.now.value,
    capacity: need.room,
    usable: need.usable,
    total: need.later.value,
  }));
  const most = Math.max(...data.map((group) => group.usable));
  return (
    <figure
      style={{ margin: 0 }}
      aria-label={`Now, later and capacity: ${data.map((group) => `${group.name}: ${group.now}, ${group.total} of ${group.usable}`).join('; ')}`}
    >
      <figcaption style={{ display: 'flex', gap: 14, fontSize: 12, color: 'var(--ink2)', paddingBottom: 4 }}>
        {[
          ['now', 'var(--spruce)'],
          ['later', 'var(--ochre)'],
          ['room left', 'var(--line)'],
        ].map(([text, fill]) => (
          <span key={text} style={{ display: 'flex', gap: 5, alignItems: 'center' }}>
            <svg width={10} height={10} aria-hidden>
              <rect
                x={0.5}
                y={0.5}
                width={9}
                height={9}
                rx={2}
                fill={fill}
                stroke={fill === 'var(--line)' ? 'var(--line2)' : 'none'}
              />
            </svg>
            {text}
          </span>
        ))}
      </figcaption>
      <ResponsiveContainer width="100%" height={data.length * 20 + 24}>
        <BarChart data={data} layout="vertical" margin={{ top: 0, right: 12, bottom: 0, left: 0 }} barCategoryGap={5}>
          <XAxis
            type="number"
            domain={[0, most]}
            tick={{ fontSize: 11, fill: 'var(--ink2)' }}
            stroke="var(--line2)"
            tickLine={false}
            height={20}
          />
          <YAxis
            type="category"
            dataKey="short"
            width={132}
            interval={0}
            tick={{ fontSize: 11, fill: 'var(--ink)' }}
            stroke="var(--line2)"
            tickLine={false}
          />
          <Tooltip
            cursor={{ fill: 'var(--sunk)' }}
            content={({ active, payload }) => {
              const group = payload?.[0]?.payload as (typeof data)[number] | undefined;
              return active && group ? (
                <div
                  style={{
                    background: 'var(--ink)',
                    color: 'var(--surface)',
                    padding: '4px 8px',
                    borderRadius: 6,
                    fontSize: 12,
                  }}
                >
                  {group.name}: {group.now} now, {group.total} later, {group.usable} fit
                </div>
              ) : null;
            }}
          />
          <Bar dataKey="now" stackId="a" fill="var(--spruce)" isAnimationActive={false} />
          <Bar dataKey="later" stackId="a" fill="var(--ochre)" isAnimationActive={false} />
          <Bar
            dataKey="capacity"
            stackId="a"
            fill="var(--line)"
            stroke="var(--line2)"
            radius={[0, 3, 3, 0]}
            isAnimationActive={false}
          />
        </BarChart>
      </ResponsiveContainer>
    </figure>
  );
}
