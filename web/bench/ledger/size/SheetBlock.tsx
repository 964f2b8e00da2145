import { useState } from 'react';
import { countBySheet, type FoundStructure, type SizeSettings } from '@jossel/core/size';
import { figure, printArea, printNumber } from '@jossel/core/units';
import type { PublishedSheet } from '@jossel/core/finish';
import { useAppSelector } from '../../../app/store';
import { Button, Quiet } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { BasisMark } from '../../../controls/marks';
import { Block } from './Block';

/** The size of one piece by the supplier's data sheet, times how many of them the picture shows. */
export function SheetBlock({
  sheet,
  aspect,
  found,
  settings,
  onTake,
}: {
  sheet: PublishedSheet;
  /** Width over height of the frame. */
  aspect: number;
  found: FoundStructure | null;
  settings: SizeSettings;
  onTake: (change: Partial<SizeSettings>) => void;
}) {
  const units = useAppSelector((s) => s.settings.units);
  const [typed, setTyped] = useState<{ across: number | null; up: number | null }>({
    across: null,
    up: null,
  });
  const { widthMm, heightMm } = sheet;
  if (!widthMm || !heightMm) return null;
  const jointMm = sheet.jointMm ?? 0;
  const detected = (axis: 'across' | 'up') => found?.[axis]?.count ?? null;
  const count = countBySheet({ widthMm, heightMm, jointMm }, aspect, {
    across: typed.across ?? detected('across'),
    up: typed.up ?? detected('up'),
  });
  const taken =
    count &&
    settings.ruling.across === 'count' &&
    settings.ruling.up === 'count' &&
    settings.count.across?.modules === count.across &&
    settings.count.up?.modules === count.up;
  const field = (axis: 'across' | 'up', label: string) => (
    <NumberField
      label={label}
      unit="×"
      whole
      min={1}
      max={100000}
      value={typed[axis] ?? count?.[axis] ?? null}
      onChange={(n) => setTyped({ ...typed, [axis]: n })}
      onClear={() => setTyped({ ...typed, [axis]: null })}
    />
  );
  function take() {
    if (!count) return;
    const [w, h] = count.turned ? [heightMm!, widthMm!] : [widthMm!, heightMm!];
    const counted = (modules: number, mm: number) => ({
      modules,
      moduleMm: figure(mm, 'mm', 'published', undefined, 'Data sheet of the supplier'),
      jointMm,
      ends: 'joint' as const,
      before: 0,
      after: 0,
    });
    onTake({
      ruling: { across: 'count', up: 'count' },
      count: { across: counted(count.across, w), up: counted(count.up, h) },
    });
  }
  return (
    <Block aria-label="Data sheet">
      <h3>Data sheet of the supplier</h3>
      <div className="result">
        <BasisMark basis="published" />
        <span>
          One piece {printArea({ width: widthMm, height: heightMm }, units)}
          {jointMm > 0 && <Quiet>, joint {printNumber(jointMm)} mm</Quiet>}
        </span>
      </div>
      <div className="three">
        {field('across', 'Pieces across')}
        {field('up', 'Pieces up')}
      </div>
      {count ? (
        <div className="ends">
          <span>
            {count.across} × {count.up} pieces{count.turned ? ', lying upright' : ''}:{' '}
            <strong>{printArea(count.sizeMm, units)}</strong>
            {Math.abs(count.off) > 0.005 && (
              <Quiet>
                {' '}
                the picture is {printNumber(100 * Math.abs(count.off))} % {count.off > 0 ? 'wider' : 'higher'}
              </Quiet>
            )}
          </span>
          <Button isDisabled={Boolean(taken)} onPress={take}>
            {taken ? 'Taken over' : 'Take over'}
          </Button>
        </div>
      ) : (
        <Quiet>
          {typed.across || typed.up
            ? 'The proportions of the frame do not fit this count. Count again, or set the frame to whole pieces.'
            : 'Count the pieces along one side; the other side follows from the proportions.'}
        </Quiet>
      )}
    </Block>
  );
}
