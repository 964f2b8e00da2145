import { useState } from 'react';
import type { Recipe } from '@jossel/core/finish';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import {
  doubtsAboutSize,
  NO_SIZE,
  type ResolvedSize,
  type SizeSettings,
  type SizeWay,
} from '@jossel/core/size';
import { printNumber } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppDispatch } from '../../../app/store';
import { Button, Quiet } from '../../../controls/basics';
import { benchSlice } from '../../bench-slice';
import { lookForCard } from '../sample/look-for-card';
import { notFoundWords } from '../../not-found-words';
import type { StructureSearch } from '../../use-structure';
import { geometryOf, withSource } from '../../picture-in-hand';
import { PictureChoice } from '../sample/PictureChoice';
import { useGeometryChange } from '../use-change';
import { AxisBlock } from './AxisBlock';
import { Block } from './Block';
import { ResolutionField } from './ResolutionField';
import { RulersBlock } from './RulersBlock';
import { SheetBlock } from './SheetBlock';
import { rulingBy, without, withoutAssumed, type AxisKey } from './size-edits';

const AXES = [
  ['across', 'Width'],
  ['up', 'Height'],
] as const;

/** The true size of the frame: everything that is known of it, which of it rules, and how the rest agrees. */
export function SizeSection({
  recipe,
  source,
  samples,
  sample,
  category,
  geometry,
  search,
}: {
  recipe: Recipe;
  /** The picture in hand. */
  source: PictureSource;
  samples: readonly Sample[];
  sample: Sample;
  category: string;
  geometry: SampleGeometry | null;
  search: StructureSearch;
}) {
  const dispatch = useAppDispatch();
  const change = useGeometryChange(recipe, source, sample, 'size');
  const [said, setSaid] = useState<{ at: AxisKey | 'card'; text: string } | null>(null);
  const settings = source.size ?? NO_SIZE;
  const size: ResolvedSize | null = geometry?.size ?? null;
  const doubts = size ? doubtsAboutSize(size, category) : [];

  /** Takes new settings over if a size follows from them; says why not otherwise. */
  function take(what: string, wanted: Partial<SizeSettings>): void {
    const next = withoutAssumed(settings, wanted);
    try {
      const tried = { ...source, size: { ...settings, ...next } };
      geometryOf(withSource(recipe, source.id, tried), tried, samples);
    } catch (error) {
      return setSaid({ at: 'card', text: (error as Error).message });
    }
    setSaid(null);
    change(what, { ...settings, ...next });
  }

  async function findCard(then: (card: SizeSettings['card']) => void): Promise<void> {
    const card = await lookForCard(sample, 'draw a ruler line', (text) =>
      setSaid(text ? { at: 'card', text } : null),
    );
    if (card) then({ marks: card.marks.map((m) => [...m]) as never });
  }

  function rule(axis: AxisKey, name: string, way: SizeWay): void {
    const what = `${axis} way`;
    const next = rulingBy(settings, axis, way, {
      size,
      found: search.found,
      filePxPerMm: sample.pxPerMm ?? null,
    });
    if (!('needs' in next)) return take(what, next);
    if (next.needs === 'card')
      return void findCard((card) => take(what, { ruling: { ...settings.ruling, [axis]: 'card' }, card }));
    if (next.needs === 'lines') {
      dispatch(benchSlice.actions.changed({ drawing: 'ruler', look: null }));
      return setSaid({
        at: axis,
        text: 'Draw a ruler line on the plate first, between two points of known distance.',
      });
    }
    setSaid({
      at: axis,
      text: search.busy
        ? 'The structure is still being looked for.'
        : `No regular structure was found along the ${name.toLowerCase()}; count or measure instead.`,
    });
  }

  return (
    <>
      <PictureChoice recipe={recipe} samples={samples} value={source.id} />
      {!source.size && (
        <Quiet>
          Its pixels are as large as those of the picture that leads the repeat, until a size of its own is
          given.
        </Quiet>
      )}
      {geometry && (
        <SheetBlock
          sheet={sample.sheet}
          aspect={geometry.frame.widthPx / geometry.frame.heightPx}
          found={search.found}
          settings={settings}
          onTake={(counted) => take('count by the data sheet', counted)}
        />
      )}
      {AXES.map(([axis, name]) => (
        <AxisBlock
          key={axis}
          axis={axis}
          name={name}
          settings={settings}
          resolved={size && (axis === 'across' ? size.width : size.height)}
          found={search.found?.[axis] ?? null}
          doubts={doubts.filter((d) => d.axis === axis).map((d) => d.question)}
          said={said?.at === axis ? said.text : null}
          onRule={(way) => rule(axis, name, way)}
          onTake={(what, next, takenOut) =>
            take(what, takenOut ? without(settings, next, takenOut, size, [axis]) : next)
          }
        />
      ))}
      <Block aria-label="Structure">
        <h3>Structure</h3>
        <Quiet role="status">{structureWords(search)}</Quiet>
      </Block>
      <RulersBlock
        lines={settings.lines}
        frame={geometry?.frame ?? null}
        onLines={(what, lines) =>
          take(what, lines.length > 0 ? { lines } : without(settings, { lines }, 'lines', size))
        }
      />
      <Block aria-label="Resolution">
        <h3>Resolution</h3>
        <ResolutionField
          value={settings.resolution}
          onChange={(resolution) => take('resolution', { resolution })}
          onClear={() => take('resolution', without(settings, { resolution: null }, 'resolution', size))}
        />
        {sample.pxPerMm && <Quiet>The file says {printNumber(sample.pxPerMm * 25.4, 0)} dpi.</Quiet>}
      </Block>
      <Block aria-label="Target card">
        <h3>Target card</h3>
        {settings.card ? (
          <div className="ends">
            <Quiet>Its four ring marks are found; shown on the plate as received.</Quiet>
            <Button
              weight="quiet"
              onPress={() => take('card', without(settings, { card: null }, 'card', size))}
            >
              Remove
            </Button>
          </div>
        ) : (
          <Button onPress={() => void findCard((card) => take('card', { card }))}>
            Find the card’s marks
          </Button>
        )}
        {said?.at === 'card' && <p role="alert">{said.text}</p>}
      </Block>
      {size && (
        <Quiet>
          {printNumber(size.pxPerMm.x, 3)} × {printNumber(size.pxPerMm.y, 3)} px per mm
          {Math.abs(size.axesDiffer) > 0.0005 &&
            `; the axes differ by ${printNumber(Math.abs(size.axesDiffer) * 100, 1)} %`}
        </Quiet>
      )}
    </>
  );
}

function structureWords({ busy, sentence, found }: StructureSearch): string {
  if (busy) return 'Looking for a structure …';
  if (sentence || !found) return sentence;
  const { across, up, stagger } = found;
  const seen = across?.confidence ?? up?.confidence;
  if (seen === undefined) return notFoundWords(found.refused);
  const one = (name: string, f: typeof across) =>
    f ? `${printNumber(f.count, 2)} periods ${name}` : `none ${name}`;
  const shifted =
    stagger !== null && stagger > 0.03 && stagger < 0.97
      ? `; courses shifted by ${printNumber(stagger, 2)}`
      : '';
  return `${one('across', across)}, ${one('up', up)}${shifted}; seen in ${printNumber(100 * seen, 0)} % of the picture.`;
}
