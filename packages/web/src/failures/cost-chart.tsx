'use client';

import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';

/** One case on the chart. */
export interface CostBar {
  readonly place: number;
  readonly name: string;
  readonly value: number;
  readonly harm: 'cut' | 'longer' | 'harmless';
}

const colours = { cut: 'var(--accent)', longer: 'var(--coast-5)', harmless: 'var(--rule)' } as const;

/** What the cases cost, dearest first: how many cost how much is seen at once, and a click opens one. */
export default function CostChart({
  bars,
  what,
  onChoose,
}: {
  readonly bars: readonly CostBar[];
  readonly what: string;
  readonly onChoose: (place: number) => void;
}) {
  return (
    <ResponsiveContainer width="100%" height={120}>
      <BarChart
        data={bars.map((b) => ({ ...b, fill: colours[b.harm] }))}
        margin={{ top: 6, right: 4, bottom: 0, left: -10 }}
        barCategoryGap={bars.length > 120 ? 0 : 1}
      >
        <XAxis dataKey="place" tick={{ fontSize: 11, fill: 'var(--ink-2)' }} stroke="var(--rule)" interval="preserveStartEnd" minTickGap={30} />
        <YAxis allowDecimals={false} tick={{ fontSize: 11, fill: 'var(--ink-2)' }} stroke="var(--rule)" width={52} />
        <Tooltip
          cursor={{ fill: 'var(--rule-fine)' }}
          contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--rule)', fontSize: 12 }}
          labelFormatter={(_, all) => (all[0]?.payload as CostBar | undefined)?.name ?? ''}
          formatter={(n) => [Number(n).toLocaleString('en-GB'), what]}
        />
        <Bar dataKey="value" isAnimationActive={false} onClick={(_, n) => onChoose(n)} style={{ cursor: 'pointer' }} />
      </BarChart>
    </ResponsiveContainer>
  );
}
