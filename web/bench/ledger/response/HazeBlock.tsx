import { METER_ANGLES, type HazeReport, type MeterAngle, type ResponseSettings } from '@jossel/core/response';
import { figure, printNumber } from '@jossel/core/units';
import { Button, Quiet, Row } from '../../../controls/basics';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';

const FIELDS = { 20: 'gloss20Gu', 85: 'gloss85Gu' } as const;
const OTHERS = [20, 85] as const;

/** Readings at 20° and 85°, and the haze that they tell of. */
export function HazeBlock({
  response,
  haze,
  expectedGu,
  change,
}: {
  response: ResponseSettings;
  haze: HazeReport | null;
  /** What one lobe would read; null: not known yet. */
  expectedGu: (angle: MeterAngle) => number | null;
  change: (what: string, next: Partial<ResponseSettings>) => void;
}) {
  const missing = OTHERS.filter((angle) => !response[FIELDS[angle]]);
  return (
    <Block>
      <h3>Haze</h3>
      {OTHERS.map((angle) => {
        const value = response[FIELDS[angle]];
        return (
          value && (
            <FigureField
              key={angle}
              label={`Gloss at ${angle}°`}
              figure={value}
              unit="GU"
              min={0}
              max={2000}
              digits={1}
              onChange={(next) => change(`gloss ${angle}`, { [FIELDS[angle]]: next })}
              onClear={() => change(`gloss ${angle}`, { [FIELDS[angle]]: undefined })}
            />
          )
        );
      })}
      {missing.length > 0 && (
        <Row>
          {missing.map((angle) => (
            <Button
              key={angle}
              onPress={() =>
                change(`gloss ${angle}`, {
                  [FIELDS[angle]]: figure(
                    Math.round(expectedGu(angle) ?? response.glossGu.value),
                    'GU',
                    'assumed',
                  ),
                })
              }
            >
              Add a reading at {angle}°
            </Button>
          ))}
        </Row>
      )}
      {haze && <Quiet>{sentenceOf(haze)}</Quiet>}
    </Block>
  );
}

const gu = (v: number) => printNumber(v, 1);

/** What the readings come to, and what a receiver with one lobe loses. */
export function sentenceOf({ read, one, two, restGu }: HazeReport): string {
  const lost = METER_ANGLES.filter((angle) => angle !== 60 && read[angle] !== undefined)
    .map((angle) => `${gu(one[angle])} GU at ${angle}° instead of ${gu(read[angle]!)}`)
    .join(' and ');
  const single = `With one lobe, as the roughness map has it, it would read ${lost}.`;
  if (!two) return `${single} With all three angles the haze is worked out.`;
  const [narrow, wide] = two.roughness;
  if (two.wideShare < 0.02 || two.wideShare > 0.98 || wide - narrow < 0.03)
    return `${single} The three readings agree with one lobe.`;
  return `${single} Two lobes come within ${gu(restGu)} GU: ${printNumber(100 * (1 - two.wideShare), 0)} % at roughness ${printNumber(narrow, 3)}, and a haze of ${printNumber(100 * two.wideShare, 0)} % at ${printNumber(wide, 3)}.`;
}
