import { isBanded } from '@jossel/core/relief';
import { useState } from 'react';
import type { Recipe, RenderReport } from '@jossel/core/finish';
import type { PictureSource } from '@jossel/core/sources';
import { printNumber } from '@jossel/core/units';
import { Button, Quiet, Row } from '../../../controls/basics';
import { Amount, Tick } from '../../../controls/amounts';
import { NumberField } from '../../../controls/fields';
import type { GlareSearch } from '../../use-glare';
import { usePictureChange } from '../use-change';
import { LightProfile } from '../charts';
import { Picture } from './parts';

const newId = () => Math.random().toString(36).slice(2, 10);

/** Uneven light and glare: what is found, and what is done about it. */
export function LightPanel({
  recipe,
  source,
  report,
  glare,
}: {
  recipe: Recipe;
  source: PictureSource;
  report: RenderReport | null;
  glare: GlareSearch;
}) {
  const change = usePictureChange(recipe, source, 'light');
  const changePreparation = usePictureChange(recipe, source, 'preparation');
  const [said, setSaid] = useState('');
  const { levelling, fills } = source.light;
  const light = report?.calibration.light ?? null;
  const small = glare.places.filter((p) => p.from);
  const set = (what: string, next: Partial<NonNullable<typeof levelling>>, dragged = false) =>
    change(`levelling ${what}`, { levelling: { ...levelling!, ...next } }, dragged);
  return (
    <>
      <Tick
        name="Level uneven light"
        value={levelling !== null}
        onChange={(on) =>
          change('levelling', {
            levelling: on
              ? {
                  radiusMm: null,
                  shading: 0,
                  shadingMm: 2 * (fineBelowMm(recipe) ?? 1),
                }
              : null,
          })
        }
      />
      {levelling && (
        <>
          <NumberField
            label="Also flatten variation broader than"
            unit="mm"
            value={levelling.radiusMm}
            min={1}
            max={100000}
            onChange={(radiusMm) => set('radius', { radiusMm })}
            onClear={() => set('radius', { radiusMm: null })}
          />
          {levelling.radiusMm === null && <Quiet>Empty: corrects lighting falloff only.</Quiet>}
          <Amount
            label="Reduce relief shading"
            labelPx={124}
            neutral={0}
            value={levelling.shading}
            min={0}
            max={1}
            step={0.05}
            onChange={(shading) => set('shading', { shading }, true)}
          />
          <Quiet>
            Fine variation in lightness without variation in colour is treated as shading from the relief.
          </Quiet>
          {levelling.shading > 0 && (
            <NumberField
              label="Shading is finer than"
              unit="mm"
              value={levelling.shadingMm}
              min={0.05}
              max={1000}
              onChange={(shadingMm) => set('shading size', { shadingMm })}
            />
          )}
        </>
      )}
      {light && (
        <>
          <div style={{ display: 'grid', gridTemplateColumns: '64px 1fr', gap: 12, alignItems: 'center' }}>
            <Picture
              about="Map of the illumination over the area used: white where it is strongest"
              widthPx={light.map.widthPx}
              heightPx={light.map.widthPx}
              rgba={greys(light.map.data)}
              style={{ border: '1px solid #8A8A8A', aspectRatio: '1' }}
            />
            <p>
              Illumination falls off by <strong>{printNumber(light.fallPercent, 0)} %</strong> across the area
              used; the map shows where it is strongest.
            </p>
          </div>
          <LightProfile across={light.across} up={light.up} />
        </>
      )}
      <section aria-label="Glare" style={{ display: 'grid', gap: 8 }}>
        <h3 style={{ fontSize: 13, margin: 0 }}>Glare</h3>
        <Quiet role="status">
          {said ||
            glare.sentence ||
            (glare.busy
              ? 'Looking for glare …'
              : glare.places.length === 0
                ? 'No glare is found beside what is kept out or filled already.'
                : `${glare.places.length} ${glare.places.length === 1 ? 'place' : 'places'}, ${printNumber(100 * glare.places.reduce((s, p) => s + p.share, 0), 2)} % of the frame, up to ${printNumber(Math.max(...glare.places.map((p) => p.times)), 1)} times as bright as what lies round; outlined on the plate.`)}
        </Quiet>
        {glare.places.length > 0 && (
          <Row>
            <Button
              onPress={() => {
                changePreparation('keep out glare', {
                  keepOuts: [
                    ...source.preparation.keepOuts,
                    ...glare.places.map((p) => ({
                      id: newId(),
                      kind: 'outline' as const,
                      points: p.points.map(clamped),
                      erase: false,
                    })),
                  ],
                });
                setSaid('');
              }}
            >
              Keep out
            </Button>
            <Button
              isDisabled={small.length === 0}
              onPress={() => {
                change('fill glare', {
                  fills: [
                    ...fills,
                    ...small.map((p) => ({ id: newId(), points: p.points.map(clamped), from: p.from! })),
                  ],
                });
                setSaid(
                  small.length < glare.places.length ? 'Filled the small ones; keep out the large ones.' : '',
                );
              }}
            >
              Fill from around
            </Button>
          </Row>
        )}
        {fills.length > 0 && (
          <Row>
            <Quiet>
              {fills.length} {fills.length === 1 ? 'place is' : 'places are'} filled.
            </Quiet>
            <Button weight="quiet" onPress={() => change('fills taken out', { fills: [] })}>
              Remove the filling
            </Button>
          </Row>
        )}
      </section>
    </>
  );
}

const clamped = ([x, y]: readonly [number, number]): [number, number] => [
  Math.min(1, Math.max(0, x)),
  Math.min(1, Math.max(0, y)),
];

/** Light as greys in steps, so that its run is seen. */
function greys(data: readonly number[]): Uint8ClampedArray<ArrayBuffer> {
  const [least, most] = [Math.min(...data), Math.max(...data)];
  const out = new Uint8ClampedArray(4 * data.length);
  data.forEach((v, i) => {
    const step = Math.round(((v - least) / Math.max(1e-6, most - least)) * 8) / 8;
    out.set([60 + 195 * step, 60 + 195 * step, 60 + 195 * step, 255], 4 * i);
  });
  return out;
}

/** Below which wavelength the relief takes detail for fine, mm. */
const fineBelowMm = ({ relief }: Recipe): number | undefined =>
  relief.contributions.find(isBanded)?.fineBelowMm;
