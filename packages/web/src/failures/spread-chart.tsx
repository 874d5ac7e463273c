'use client';

import { timeWords } from '@gentle-compass/core/convergence/chain';
import { Bar, BarChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { Bin } from './bins';

/** How often the last table was new after how long. */
export default function SpreadChart({ bins, typical }: { readonly bins: readonly Bin[]; readonly typical: number }) {
  const there = bins.find((b, n) => typical >= b.from && (typical < b.to || n === bins.length - 1));
  return (
    <ResponsiveContainer width="100%" height={170}>
      <BarChart data={bins.map((b) => ({ ...b, label: timeWords(b.from) }))} margin={{ top: 16, right: 4, bottom: 0, left: -18 }} barCategoryGap={1}>
        <XAxis dataKey="label" tick={{ fontSize: 11, fill: 'var(--ink-2)' }} stroke="var(--rule)" interval="preserveStartEnd" minTickGap={14} />
        <YAxis allowDecimals={false} tick={{ fontSize: 11, fill: 'var(--ink-2)' }} stroke="var(--rule)" width={44} />
        <Tooltip
          cursor={{ fill: 'var(--rule-fine)' }}
          contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--rule)', fontSize: 12 }}
          labelFormatter={(_, all) => {
            const bin = all[0]?.payload as Bin | undefined;
            return bin ? `${timeWords(bin.from)} to ${timeWords(bin.to)}` : '';
          }}
          formatter={(n) => [`${String(n)} runs`, 'last table new']}
        />
        {there && (
          <ReferenceLine
            x={timeWords(there.from)}
            stroke="var(--accent)"
            label={{ value: 'typical', position: 'top', fontSize: 11, fill: 'var(--accent)' }}
          />
        )}
        <Bar dataKey="runs" isAnimationActive={false} fill="var(--coast-5)" />
      </BarChart>
    </ResponsiveContainer>
  );
}
