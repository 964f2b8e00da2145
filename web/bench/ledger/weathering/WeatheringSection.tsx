import { useState } from 'react';
import type { Recipe } from '@jossel/core/finish';
import type { LaidFinish } from '@jossel/core/layout';
import { usualLayer, type WeatheringLayer, type WeatheringReport } from '@jossel/core/weathering';
import { printNumber } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OnOff, Quiet, Row } from '../../../controls/basics';
import { BuildUpRows } from '../../../controls/build-up';
import { benchSlice } from '../../bench-slice';
import { newId } from '../../new-id';
import { FinishChoice } from '../layout/FinishChoice';
import { partsOf } from '../parts';
import { useChangeRecipe } from '../use-change';
import { LayerPanel } from './LayerPanel';
import { UsualLayers } from './UsualLayers';

/** What happened to the finish after it was laid, layer by layer, in the order it happened. */
export function WeatheringSection({
  finishId,
  recipe,
  report,
}: {
  finishId: string;
  recipe: Recipe;
  report: WeatheringReport['weathering'];
}) {
  const put = useChangeRecipe();
  const dispatch = useAppDispatch();
  const before = useAppSelector((s) => s.bench.beforeWeathering);
  const [open, setOpen] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const { weathering } = recipe;
  const set = (what: string, next: WeatheringLayer[]) =>
    put(`weathering ${what}`, { ...recipe, weathering: next });
  const add = (layer: WeatheringLayer) => {
    set('add', [...weathering, layer]);
    setOpen(layer.id);
    setAdding(false);
  };
  const layer = weathering.find((l) => l.id === open) ?? weathering.at(-1);
  const laid = new Map((report?.layers ?? []).map((l) => [l.id, l]));
  return (
    <>
      {weathering.length === 0 ? (
        <Quiet>Nothing has happened to it yet. Layers are added in the order they happened.</Quiet>
      ) : (
        <>
          <Row $gap={4}>
            <OnOff
              name="Before"
              value={before}
              onChange={(value) => dispatch(benchSlice.actions.changed({ beforeWeathering: value }))}
            />
            <OnOff
              name="After"
              value={!before}
              onChange={(value) => dispatch(benchSlice.actions.changed({ beforeWeathering: !value }))}
            />
            {report && !before && report.layers.length > 0 && (
              <Quiet>LRV {printNumber(report.layers.at(-1)!.lrv, 1)} over all</Quiet>
            )}
          </Row>
          <BuildUpRows
            label="Layers, the last one on top"
            items={weathering}
            open={layer?.id ?? null}
            onOpen={setOpen}
            onOrder={(next) => set('order', next)}
            thick={(l) => l.coverPercent / 100}
            state={(l) => (l.off ? ' (off)' : '')}
            figure={(l) => {
              const made = laid.get(l.id);
              return made ? `${printNumber(100 * made.covers, 0)} %, LRV ${printNumber(made.lrv, 0)}` : '';
            }}
            counts={(l) => !l.off}
            dependencies={[weathering, report]}
          />
        </>
      )}
      <Row>
        <Button aria-expanded={adding} onPress={() => setAdding(!adding)}>
          {adding ? 'Close the list of layers' : 'Add a layer'}
        </Button>
      </Row>
      {adding && <UsualLayers onChoose={(name) => add(usualLayer(name, newId(), 1 + weathering.length))} />}
      {layer && (
        <LayerPanel
          key={layer.id}
          layer={layer}
          parts={partsOf(recipe)}
          onChange={(what, part) =>
            set(
              `${layer.id} ${what}`,
              weathering.map((l) => (l.id === layer.id ? ({ ...l, ...part } as WeatheringLayer) : l)),
            )
          }
          onRemove={() =>
            set(
              'remove',
              weathering.filter((l) => l.id !== layer.id),
            )
          }
        />
      )}
      <FinishChoice
        label="Detail of another finish"
        finishId={finishId}
        value={null}
        onChange={(finish) => finish && add(detailLayer(finish, 1 + weathering.length))}
      />
    </>
  );
}

/** Another finish in the hollows of this one. */
const detailLayer = (finish: LaidFinish, seed: number): WeatheringLayer => ({
  kind: 'detail',
  id: newId(),
  name: finish.name,
  place: { at: 'hollows', reachMm: 12 },
  coverPercent: 30,
  scaleMm: 60,
  soft: 0.5,
  seed,
  finish,
  colourPercent: 100,
  glossPercent: 100,
  reliefTimes: 1,
});
