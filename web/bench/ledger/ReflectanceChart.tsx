import { LineChart } from 'echarts/charts';
import { GridComponent, MarkAreaComponent } from 'echarts/components';
import { init, use as register, type EChartsType } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import { theme } from '../../app/theme';

register([LineChart, GridComponent, MarkAreaComponent, SVGRenderer]);

/** How the reflectance is spread over the repeat, with the band that is plausible for anything but metal. */
export function ReflectanceChart({ histogram, metal }: { histogram: readonly number[]; metal: boolean }) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  useEffect(() => {
    chart.current = init(box.current!, null, { renderer: 'svg' });
    return () => chart.current?.dispose();
  }, []);
  useEffect(() => {
    const n = histogram.length;
    chart.current?.setOption({
      animation: false,
      textStyle: { fontFamily: 'inherit', fontSize: 11, color: theme.quiet },
      grid: { left: 8, right: 10, top: 8, bottom: 34 },
      xAxis: {
        type: 'value',
        min: 0,
        max: 1,
        interval: 0.2,
        name: 'reflectance, % (square-root scale)',
        nameLocation: 'middle',
        nameGap: 20,
        splitLine: { show: false },
        axisLabel: { formatter: (v: number) => `${Math.round(v * v * 100)}` },
        axisLine: { lineStyle: { color: theme.strong } },
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
    });
  }, [histogram, metal]);
  return (
    <div
      ref={box}
      role="img"
      aria-label="Spread of the reflectance over the repeat; marked: implausible below 2 % and above 92 %"
      style={{ height: 112 }}
    />
  );
}
