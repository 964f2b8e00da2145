import { BarChart, LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, LegendComponent, MarkAreaComponent, MarkLineComponent } from 'echarts/components';
import { init, use as register, type EChartsType } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import type { PatchError } from '@jossel/core/light';
import type { Visibility } from '@jossel/core/repeat';
import type { GlassReport, GlossSpread } from '@jossel/core/response';
import { theme } from '../../app/theme';

register([
  BarChart,
  LineChart,
  ScatterChart,
  GridComponent,
  LegendComponent,
  MarkAreaComponent,
  MarkLineComponent,
  SVGRenderer,
]);

const TEXT = { fontFamily: 'inherit', fontSize: 11, color: theme.quiet };
const AXIS = {
  nameLocation: 'middle',
  nameGap: 20,
  nameTextStyle: TEXT,
  splitLine: { show: false },
  axisLine: { show: true, lineStyle: { color: theme.strong } },
  axisLabel: { color: theme.quiet },
} as const;

/** A chart drawn from its options; what it shows is said for those who do not see it. */
function Chart({ about, heightPx, option }: { about: string; heightPx: number; option: object }) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  useEffect(() => {
    chart.current = init(box.current!, null, { renderer: 'svg' });
    const observer = new ResizeObserver(() => chart.current?.resize());
    observer.observe(box.current!);
    return () => {
      observer.disconnect();
      chart.current?.dispose();
    };
  }, []);
  useEffect(() => {
    chart.current?.setOption({ animation: false, textStyle: TEXT, ...option }, { notMerge: true });
  }, [option]);
  return <div ref={box} role="img" aria-label={about} style={{ height: heightPx }} />;
}

/** How the reflectance is spread over the repeat, with the band that is plausible for anything but metal. */
export function ReflectanceChart({
  histogram,
  metal,
  target,
}: {
  histogram: readonly number[];
  metal: boolean;
  /** Reflectance that is asked, LRV. */
  target: number | null;
}) {
  const n = histogram.length;
  return (
    <Chart
      about="Spread of the reflectance over the repeat; marked: implausible below 2 % and above 92 %"
      heightPx={112}
      option={{
        grid: { left: 8, right: 10, top: 8, bottom: 34 },
        xAxis: {
          ...AXIS,
          type: 'value',
          min: 0,
          max: 1,
          interval: 0.2,
          name: 'reflectance, % (square-root scale)',
          axisLabel: { formatter: (v: number) => `${Math.round(v * v * 100)}` },
        },
        yAxis: { show: false, min: 0 },
        series: [
          {
            type: 'line',
            step: 'middle',
            symbol: 'none',
            lineStyle: { width: 1, color: theme.ink },
            areaStyle: { color: theme.line },
            data: histogram.map((share, i) => [(i + 0.5) / n, share]),
            markLine:
              target === null
                ? { data: [] }
                : {
                    silent: true,
                    symbol: 'none',
                    label: { show: false },
                    lineStyle: { color: theme.mark, type: 'solid', width: 1.5 },
                    data: [{ xAxis: Math.sqrt(target / 100) }],
                  },
            // Dielectrics reflect between 2 and 92 %.
            markArea: metal
              ? { data: [] }
              : {
                  silent: true,
                  itemStyle: { color: 'rgba(166, 40, 28, 0.10)' },
                  data: [
                    [{ xAxis: 0 }, { xAxis: Math.sqrt(0.02) }],
                    [{ xAxis: Math.sqrt(0.92) }, { xAxis: 1 }],
                  ],
                },
          },
        ],
      }}
    />
  );
}

/** The colours of the repeat on the a*–b* plane, with its mean and the colour that is asked. */
export function ScatterOfColours({
  points,
  mean,
  target,
}: {
  points: readonly (readonly [number, number])[];
  mean: readonly [number, number];
  target: readonly [number, number] | null;
}) {
  const all = [...points, mean, ...(target ? [target] : [])].flat().map(Math.abs);
  const reach = Math.max(10, Math.ceil(Math.max(...all) / 10) * 10);
  const axis = { ...AXIS, type: 'value', min: -reach, max: reach, interval: reach, nameGap: 16 };
  return (
    <Chart
      about={`Colours of the repeat on the a* b* plane; mean a* ${mean[0].toFixed(1)}, b* ${mean[1].toFixed(1)}`}
      heightPx={190}
      option={{
        grid: { left: 40, right: 40, top: 8, bottom: 34 },
        xAxis: { ...axis, name: 'a* (green to red)' },
        yAxis: { ...axis, name: 'b* (blue to yellow)', nameGap: 26 },
        series: [
          {
            type: 'scatter',
            symbolSize: 2.5,
            itemStyle: { color: theme.strong, opacity: 0.5 },
            data: points,
          },
          {
            type: 'scatter',
            symbol: 'circle',
            symbolSize: 9,
            itemStyle: { color: theme.ink },
            data: [mean],
          },
          {
            type: 'scatter',
            symbol: 'diamond',
            symbolSize: 13,
            itemStyle: { color: 'transparent', borderColor: theme.mark, borderWidth: 2 },
            data: target ? [target] : [],
          },
        ],
      }}
    />
  );
}

/** What is left of each patch of the target card, before and after. */
export function PatchChart({ patches }: { patches: readonly PatchError[] }) {
  return (
    <Chart
      about={`Difference of each patch: ${patches.map((p) => `${p.name} ${p.after.toFixed(1)}`).join(', ')}`}
      heightPx={150}
      option={{
        grid: { left: 30, right: 6, top: 22, bottom: 38 },
        legend: {
          top: 0,
          left: 26,
          itemWidth: 10,
          itemHeight: 8,
          textStyle: TEXT,
          data: ['as received', 'after'],
        },
        xAxis: {
          ...AXIS,
          type: 'category',
          data: patches.map((p) => p.name.replace('Grey ', 'G')),
          axisLabel: { interval: 0, rotate: 90, fontSize: 9, color: theme.quiet },
          axisTick: { show: false },
        },
        yAxis: { ...AXIS, type: 'value', name: 'ΔE00', nameGap: 18, splitNumber: 3 },
        series: [
          {
            name: 'as received',
            type: 'bar',
            barGap: '-100%',
            itemStyle: { color: theme.line },
            data: patches.map((p) => Number(p.before.toFixed(2))),
          },
          {
            name: 'after',
            type: 'bar',
            itemStyle: { color: theme.ink },
            data: patches.map((p) => ({
              value: Number(p.after.toFixed(2)),
              itemStyle: { color: p.leftOut ? theme.strong : p.after > 4 ? theme.mark : theme.ink },
            })),
          },
        ],
      }}
    />
  );
}

/** The light along the two lines through the middle of the sample. */
export function LightProfile({ across, up }: { across: readonly number[]; up: readonly number[] }) {
  const line = (name: string, values: readonly number[], type: 'solid' | 'dashed') => ({
    name,
    type: 'line',
    symbol: 'none',
    lineStyle: { width: 1.4, color: theme.ink, type },
    itemStyle: { color: theme.ink },
    data: values.map((v, i) => [(100 * i) / (values.length - 1), 100 * v]),
  });
  const all = [...across, ...up];
  const [least, most] = [Math.min(...all), Math.max(...all)];
  return (
    <Chart
      about={`Light over the sample, in percent of its mean: from ${Math.round(100 * least)} to ${Math.round(100 * most)}`}
      heightPx={130}
      option={{
        grid: { left: 34, right: 8, top: 22, bottom: 34 },
        legend: {
          top: 0,
          left: 26,
          itemWidth: 18,
          itemHeight: 2,
          textStyle: TEXT,
          data: ['across', 'top to bottom'],
        },
        xAxis: { ...AXIS, type: 'value', min: 0, max: 100, interval: 25, name: 'place on the sample, %' },
        yAxis: {
          ...AXIS,
          type: 'value',
          min: Math.floor(10 * Math.min(0.9, least)) * 10,
          max: Math.ceil(10 * Math.max(1.1, most)) * 10,
          splitNumber: 3,
          name: 'light, %',
          nameGap: 26,
        },
        series: [line('across', across, 'solid'), line('top to bottom', up, 'dashed')],
      }}
    />
  );
}

/** Contrast of a repetition against the contrast that is just seen, over the distance. */
export function VisibilityChart({ seen }: { seen: Visibility }) {
  const { curve, strongest, farthestMm } = seen;
  const contrast = strongest?.contrast ?? 0;
  const percent = (v: number) => Number((100 * v).toPrecision(3));
  const metres = (mm: number) => Number((mm / 1000).toPrecision(4));
  const points = curve.filter((p) => p.threshold < 1);
  const least = Math.min(contrast > 0 ? contrast : 1, ...points.map((p) => p.threshold));
  const floor = 10 ** Math.floor(Math.log10(Math.max(1e-5, least)) + 2);
  return (
    <Chart
      about={`Contrast of the repetition, ${percent(contrast)} %, and the contrast that is just seen, from 0.3 to 300 m away`}
      heightPx={158}
      option={{
        grid: { left: 42, right: 12, top: 24, bottom: 34 },
        legend: {
          top: 0,
          left: 30,
          itemWidth: 18,
          itemHeight: 2,
          textStyle: TEXT,
          data: ['repetition', 'just seen'],
        },
        xAxis: { ...AXIS, type: 'log', min: 0.3, max: 300, name: 'distance, m' },
        yAxis: { ...AXIS, type: 'log', min: floor, max: 100, name: 'contrast, %', nameGap: 30 },
        series: [
          {
            name: 'repetition',
            type: 'line',
            symbol: 'none',
            lineStyle: { width: 1.6, color: theme.ink },
            itemStyle: { color: theme.ink },
            data:
              contrast > 0
                ? [
                    [0.3, percent(contrast)],
                    [300, percent(contrast)],
                  ]
                : [],
            markLine: {
              silent: true,
              symbol: 'none',
              label: { show: false },
              lineStyle: { color: theme.mark, type: 'solid', width: 1.2 },
              data: farthestMm === null ? [] : [{ xAxis: metres(farthestMm) }],
            },
          },
          {
            name: 'just seen',
            type: 'line',
            symbol: 'none',
            lineStyle: { width: 1.4, color: theme.strong, type: 'dashed' },
            itemStyle: { color: theme.strong },
            data: points.map((p) => [metres(p.distanceMm), percent(Math.min(1, p.threshold))]),
          },
        ],
      }}
    />
  );
}

/** How gloss is spread over the repeat, with the one that was asked for. */
export function GlossChart({ spread, asked }: { spread: GlossSpread; asked: number }) {
  const step = spread.mostGu / spread.shares.length;
  const shownTo = 10 * Math.ceil(Math.min(spread.mostGu, Math.max(20, 1.5 * spread.highGu, asked)) / 10);
  return (
    <Chart
      about={`Gloss over the repeat: ${Math.round(spread.meanGu)} GU on average`}
      heightPx={110}
      option={{
        grid: { left: 8, right: 12, top: 6, bottom: 36 },
        xAxis: { ...AXIS, type: 'value', min: 0, max: shownTo, name: 'gloss, GU' },
        yAxis: { type: 'value', show: false },
        series: [
          {
            type: 'bar',
            barWidth: '99%',
            itemStyle: { color: theme.strong },
            data: spread.shares.map((share, k) => [(k + 0.5) * step, share]),
            markLine: {
              silent: true,
              symbol: 'none',
              label: { show: false },
              lineStyle: { color: theme.mark, type: 'solid', width: 1.4 },
              data: [{ xAxis: asked }],
            },
          },
        ],
      }}
    />
  );
}

/** What meshes of every octave are off by in the picture, over their triangles; the one that is planned is marked. */
export function MeshChart({
  choices,
  planned,
  errorPx,
}: {
  choices: readonly { triangles: number; errorPx: number }[];
  planned: { triangles: number; errorPx: number };
  /** What may be off. */
  errorPx: number;
}) {
  const shown = choices.filter((c) => c.errorPx > 0);
  return (
    <Chart
      about="Error of the mesh in pixels of the picture over its triangles; marked: the mesh that is planned, and the error that is allowed"
      heightPx={150}
      option={{
        grid: { left: 42, right: 12, top: 10, bottom: 36 },
        xAxis: {
          ...AXIS,
          type: 'log',
          name: 'triangles',
          axisLabel: { ...AXIS.axisLabel, formatter: shortCount },
        },
        yAxis: { ...AXIS, type: 'log', name: 'error, px', nameGap: 30 },
        series: [
          {
            type: 'line',
            symbolSize: 4,
            lineStyle: { color: theme.ink, width: 1 },
            itemStyle: { color: theme.ink },
            data: shown.map((c) => [c.triangles, c.errorPx]),
            markLine: {
              silent: true,
              symbol: 'none',
              label: { show: false },
              lineStyle: { color: theme.strong, type: 'dashed' },
              data: [{ yAxis: errorPx }],
            },
          },
          {
            type: 'scatter',
            symbol: 'diamond',
            symbolSize: 11,
            itemStyle: { color: theme.mark },
            data: [[planned.triangles, Math.max(1e-3, planned.errorPx)]],
          },
        ],
      }}
    />
  );
}

const shortCount = (n: number): string =>
  n >= 1e9 ? `${n / 1e9} G` : n >= 1e6 ? `${n / 1e6} M` : n >= 1000 ? `${n / 1000} k` : String(n);

/** Light that a pane lets through and reflects, over the angle at which it comes. */
export function GlassChart({ angles }: { angles: GlassReport['angles'] }) {
  const line = (name: string, share: (at: GlassReport['angles'][number]) => number, dashed: boolean) => ({
    name,
    type: 'line',
    symbol: 'none',
    itemStyle: { color: theme.ink },
    lineStyle: { width: 1.5, color: theme.ink, type: dashed ? 'dashed' : 'solid' },
    endLabel: { show: false },
    data: angles.map((at) => [at.angleDeg, 100 * share(at)]),
  });
  return (
    <Chart
      about="Light transmitted and reflected, in percent, over the angle of incidence"
      heightPx={150}
      option={{
        grid: { left: 34, right: 10, top: 22, bottom: 34 },
        // The line itself, without a dot on it.
        legend: { top: 0, right: 0, itemWidth: 22, itemHeight: 0, textStyle: TEXT },
        xAxis: { ...AXIS, type: 'value', min: 0, max: 90, interval: 30, name: 'angle of incidence, °' },
        yAxis: { ...AXIS, type: 'value', min: 0, max: 100, interval: 50, name: '%', nameGap: 24 },
        series: [
          line('transmitted', ({ transmitted }) => transmitted, false),
          line('reflected', ({ reflected }) => reflected, true),
        ],
      }}
    />
  );
}
