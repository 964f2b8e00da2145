import { drawKeepOuts, mmOfLongSide } from '@jossel/core/sample';
import { printNumber } from '@jossel/core/units';
import { useMemo } from 'react';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OneOf, OnOff, Quiet, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { benchSlice } from '../../bench-slice';
import { useGeometryChange } from '../use-change';
import type { PanelProps } from './panel-props';

function BrushWidth({ geometry }: Pick<PanelProps, 'geometry'>) {
  const brush = useAppSelector((s) => s.bench.brush);
  const dispatch = useAppDispatch();
  const longMm = geometry
    ? mmOfLongSide(geometry.frame, { width: geometry.size.width.mm, height: geometry.size.height.mm })
    : 1000;
  return (
    <NumberField
      label="Width of the brush"
      unit="mm"
      value={brush.widthMm}
      min={Number((longMm / 5000).toPrecision(2))}
      max={Number(longMm.toPrecision(3))}
      onChange={(widthMm) => dispatch(benchSlice.actions.changed({ brush: { ...brush, widthMm } }))}
    />
  );
}

/** What must never be used: painted or outlined. */
export function KeepOutsPanel({ recipe, source, sample, geometry }: PanelProps) {
  const change = useGeometryChange(recipe, source, sample, 'preparation');
  const brush = useAppSelector((s) => s.bench.brush);
  const dispatch = useAppDispatch();
  const { keepOuts } = source.preparation;
  const set = (part: Partial<typeof brush>) =>
    dispatch(benchSlice.actions.changed({ brush: { ...brush, ...part } }));
  const share = useMemo(() => {
    if (!geometry || keepOuts.length === 0) return 0;
    const { data } = drawKeepOuts(geometry.used, keepOuts, 240, 240);
    return data.reduce((s, v) => s + v, 0) / data.length;
  }, [geometry, keepOuts]);
  return (
    <>
      <p>Paint over glare, stains, labels and holes, on the plate. Each stroke can be undone by itself.</p>
      <Row>
        <OneOf
          label="Manner of marking"
          value={brush.kind}
          options={[
            { value: 'stroke', name: 'brush' },
            { value: 'outline', name: 'outline' },
          ]}
          onChange={(kind) => set({ kind })}
        />
        <OnOff name="take away" value={brush.erase} onChange={(erase) => set({ erase })} />
      </Row>
      {brush.kind === 'stroke' && <BrushWidth geometry={geometry} />}
      <Row>
        <Quiet>
          {keepOuts.length === 0
            ? 'Nothing is kept out.'
            : `${printNumber(100 * share, 1)} % of the used part is kept out.`}
        </Quiet>
        {keepOuts.length > 0 && (
          <Button weight="quiet" onPress={() => change('keep-outs taken out', { keepOuts: [] })}>
            Remove all
          </Button>
        )}
      </Row>
    </>
  );
}

/** What must run on unbroken across the repeat. */
export function ContinuityLinesPanel({ recipe, source, sample, geometry }: PanelProps) {
  const change = useGeometryChange(recipe, source, sample, 'preparation');
  const { continuityLines } = source.preparation;
  return (
    <>
      <p>Draw along joints, edges and stripes that must run on across the repeat.</p>
      <BrushWidth geometry={geometry} />
      <ul style={{ listStyle: 'none', margin: 0, padding: 0 }} aria-label="Continuity lines">
        {continuityLines.map((line, i) => (
          <li
            key={line.id}
            style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center' }}
          >
            Line {i + 1}
            <Button
              weight="quiet"
              aria-label={`Remove continuity line ${i + 1}`}
              onPress={() =>
                change('continuity line removed', {
                  continuityLines: continuityLines.filter((l) => l.id !== line.id),
                })
              }
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {continuityLines.length === 0 && <Quiet>No continuity line is drawn yet.</Quiet>}
    </>
  );
}
