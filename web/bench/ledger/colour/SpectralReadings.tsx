import { useState } from 'react';
import { readSpectralTable } from '@jossel/core/formats';
import type { ColourFigure } from '@jossel/core/light';
import {
  ILLUMINANT_NAMES,
  metamersAmong,
  readUnder,
  type Metamers,
  type ReadUnder,
} from '@jossel/core/spectrum';
import { printNumber } from '@jossel/core/units';
import { Button, Quiet, Sentence } from '../../../controls/basics';
import { FigureTable, OpenText, printLab } from './parts';

/** What was read of a file. */
interface Read {
  name: string;
  notes: readonly string[];
  readings: readonly ReadUnder[];
  metamers: readonly Metamers[];
}

/** Spectral readings of a file: reflectance under three lights, pairs that match under one alone, and one taken over. */
export function SpectralReadings({ onColour }: { onColour: (colour: ColourFigure) => void }) {
  const [read, setRead] = useState<Read | null>(null);
  const [said, setSaid] = useState('');
  function open(text: string, fileName: string) {
    try {
      const { name, notes, readings } = readSpectralTable(text, fileName);
      const under = readings.map((r) => readUnder(r.name, r.spectrum));
      setRead({ name, notes, readings: under, metamers: metamersAmong(under) });
      setSaid('');
    } catch (error) {
      setSaid(`${fileName}: ${(error as Error).message}`);
    }
  }
  const take = ({ name, under }: ReadUnder) =>
    onColour({
      lab: under.D65.lab.map((v) => Number(v.toFixed(2))) as ColourFigure['lab'],
      basis: 'measured',
      note: `Spectral reading “${name}” of ${read!.name}, D65, 2°`,
    });
  return (
    <section aria-label="Spectral readings" style={{ display: 'grid', gap: 8 }}>
      <OpenText name="Open spectral readings" accept=".txt,.cgats,.cgt,.csv,.tsv,text/plain" onText={open} />
      {said && <Sentence>{said}</Sentence>}
      {read && (
        <>
          <Quiet>
            {read.name}: LRV under {Object.values(ILLUMINANT_NAMES).join('; ')}. 2° observer, as the file’s
            geometry has it. {read.notes.join(' ')}
          </Quiet>
          <FigureTable aria-label="Spectral readings">
            <thead>
              <tr>
                <th>Reading</th>
                <th>D65</th>
                <th>A</th>
                <th>LED</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {read.readings.map((reading) => (
                <tr key={reading.name}>
                  <th scope="row" title={`L* a* b* under D65: ${printLab(reading.under.D65.lab)}`}>
                    {reading.name}
                  </th>
                  <td>{printNumber(reading.under.D65.lrv, 1)}</td>
                  <td>{printNumber(reading.under.A.lrv, 1)}</td>
                  <td>{printNumber(reading.under.LED.lrv, 1)}</td>
                  <td>
                    <Button
                      weight="quiet"
                      aria-label={`Use ${reading.name} as the colour`}
                      onPress={() => take(reading)}
                    >
                      use
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </FigureTable>
          {read.metamers.map(({ names: [a, b], match, apart }) => (
            <p key={`${a} ${b}`} style={{ fontSize: 12 }}>
              {a} and {b} match under {match.light} (ΔE00 {printNumber(match.deltaE, 1)}) and differ under{' '}
              {apart.light} (ΔE00 {printNumber(apart.deltaE, 1)}).
            </p>
          ))}
        </>
      )}
    </section>
  );
}
