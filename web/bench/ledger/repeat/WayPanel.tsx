import styled from 'styled-components';
import { leadingPicture, type Recipe } from '@jossel/core/finish';
import type {
  ClosedAxis,
  Closing,
  PiecesJudged,
  RepeatReport,
  RepeatPlan,
  RepeatSettings,
  Spread,
} from '@jossel/core/repeat';
import type { ProposedFrame, ResolvedSize } from '@jossel/core/size';
import type { PictureSource } from '@jossel/core/sources';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../../app/store';
import type { Sample } from '../../../app/api';
import { Button, OneOf, Quiet, Row, Sentence } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import type { StructureSearch } from '../../use-structure';
import type { DrawnOf } from '../../use-drawn';
import { leanWords } from '../sample/straightened-words';
import { useChange, useGeometryChange } from '../use-change';
import { Arrangements } from './Arrangements';
import { ComposeBlock } from './ComposeBlock';
import { StructureBlock } from './StructureBlock';
import { TriedMethods } from './TriedMethods';
import { useAdvice } from './use-advice';
import { useRelaidPieces } from './use-relaid-pieces';
import type { ShownMethod } from '../../../workers/render.worker';

const Axis = styled.section`
  display: grid;
  gap: 7px;
  h3 {
    font-size: 13px;
    font-weight: 600;
  }
`;
const Why = styled.ul`
  margin: 0;
  padding: 0 0 0 10px;
  border-left: 3px solid ${({ theme }) => theme.line};
  list-style: none;
  display: grid;
  gap: 4px;
`;
const WAYS: readonly { value: RepeatSettings['method']; name: string }[] = [
  { value: 'edges', name: 'closed at its edges' },
  { value: 'composed', name: 'composed' },
];
const CLOSING_NAMES: readonly { value: Closing; name: string }[] = [
  { value: 'blend', name: 'blend' },
  { value: 'mirror', name: 'mirror' },
  { value: 'cut', name: 'cut' },
  { value: 'abut', name: 'edge to edge' },
];

/** That the structure is seen at an angle, and one press that straightens the picture by it. */
function StraightenRow({
  recipe,
  source,
  sample,
  frame,
}: {
  recipe: Recipe;
  source: PictureSource;
  sample: Sample;
  frame: ProposedFrame;
}) {
  const change = useGeometryChange(recipe, source, sample, 'preparation');
  return (
    <>
      <p>The structure is seen at an angle: {leanWords(frame, 'is')}.</p>
      <Row>
        <Button
          onPress={() => change('frame by structure', { frame: frame.corners.map((p) => [...p]) as never })}
        >
          Straighten by the structure
        </Button>
      </Row>
    </>
  );
}

/** Whether a repeat is made by a method that was tried. */
const isUsed = ({ settings: tried }: ShownMethod, now: RepeatSettings): boolean =>
  (['method', 'across', 'up', 'structure'] as const).every(
    (key) => JSON.stringify(tried[key]) === JSON.stringify(now[key]),
  );

/** How many pieces the repeat has, and how many are broken; those of a composed one can be re-laid. */
function PiecesLine({
  recipe,
  samples,
  pieces: { pieces, broken },
}: {
  recipe: Recipe;
  samples: readonly Sample[];
  pieces: PiecesJudged;
}) {
  const { isBusy, said, relay, stop } = useRelaidPieces(recipe, samples);
  const canRelay = recipe.repeat.method === 'composed' && broken.length > 0;
  return (
    <>
      <p>
        {pieces} pieces in the repeat;{' '}
        {broken.length === 0
          ? 'all of them whole.'
          : `${broken.length} broken where copies meet, outlined on the plate: cut ones in a full line, fused ones dashed, those of mixed tones dotted.`}
      </p>
      {(canRelay || isBusy) && (
        <Row>
          <Button onPress={() => void (isBusy ? stop() : relay())}>
            {isBusy ? 'Stop re-laying' : 'Re-lay broken pieces'}
          </Button>
          {isBusy && <Quiet role="status">Re-laying them and what lies about them …</Quiet>}
        </Row>
      )}
      {said && <Sentence>{said}</Sentence>}
    </>
  );
}

/** What a repeat is made of, in words; nothing where it is not cut. */
function madeOf({ boards, copies }: RepeatReport): string {
  if (boards) {
    const cut = boards.laid - boards.whole;
    return `Laid of ${boards.laid} boards, ${cut === boards.laid ? 'all' : cut} of them cut to length. `;
  }
  return copies ? `Cut from ${copies} copies of the sample. ` : '';
}

/** The way in which the sample becomes a repeat, with the seam figure of each edge. */
export function WayPanel({
  recipe,
  plan,
  size,
  samples,
  drawn,
  search,
  pieces,
}: {
  recipe: Recipe;
  plan: RepeatPlan | null;
  size: ResolvedSize | null;
  samples: readonly Sample[];
  drawn: DrawnOf | null;
  search: StructureSearch;
  pieces: PiecesJudged | null;
}) {
  const put = useChange(recipe, 'repeat');
  // What is changed by hand was not chosen by Jossel any more.
  const change = (what: string, part: Partial<RepeatSettings>) =>
    put(what, 'arrangement' in part || 'arrangements' in part ? part : { why: [], ...part });
  const { looking, fault, tried, suggest, stop } = useAdvice(recipe, samples);
  const units = useAppSelector((s) => s.settings.units);
  const mm = (v: number) => printLength(v, units, v < 100 ? 1 : 0);
  const settings = recipe.repeat;
  // Figures of what is drawn; while another repeat is on its way they are those of the one before, and not shown.
  const made = drawn?.report;
  const report =
    made &&
    plan &&
    made.repeatMm.width === plan.repeatMm.width &&
    made.repeatMm.height === plan.repeatMm.height &&
    (made.copies !== null) === (plan.kind !== 'layered')
      ? made
      : null;
  const seam = report?.seam;
  const source = leadingPicture(recipe);
  const leadSample = samples.find((s) => s.id === source?.sampleId);

  const words = (
    key: 'across' | 'up',
    closed: ClosedAxis | undefined,
    figure: number | undefined,
    inside: Spread | undefined,
  ) =>
    closed && (
      <Quiet>
        {mm(closed.repeatMm)}
        {closed.modules ? `, ${closed.modules} whole ${settings.structure[key] ? 'periods' : 'modules'}` : ''}
        {closed.mixedMm > 0 && `, ${mm(closed.mixedMm)} mixed`}
        {closed.cutMm > 0 && `, cut within ${mm(closed.cutMm)}`}
        {closed.stretch ? `, stretched by ${printNumber(100 * closed.stretch)} %` : ''}
        {figure !== undefined && (
          <>
            ; seam <strong style={{ color: '#1B1B1B' }}>{printNumber(figure, 2)}</strong>
            {inside && `, lines inside ${printNumber(inside.from, 2)} to ${printNumber(inside.to, 2)}`}
          </>
        )}
      </Quiet>
    );
  function edges(key: 'across' | 'up', name: string) {
    const value = settings[key];
    return (
      <>
        <OneOf
          label={`Closing, ${name.toLowerCase()}`}
          value={value.closing}
          options={CLOSING_NAMES}
          onChange={(closing) => change(`${key} closing`, { [key]: { ...value, closing } })}
        />
        {(value.closing === 'blend' || value.closing === 'cut') && (
          <NumberField
            label="Overlap"
            unit="mm"
            value={value.overlapMm}
            min={0}
            max={100000}
            digits={1}
            onChange={(overlapMm) => change(`${key} overlap`, { [key]: { ...value, overlapMm } })}
          />
        )}
      </>
    );
  }
  const axis = (
    key: 'across' | 'up',
    name: string,
    figure: number | undefined,
    inside: Spread | undefined,
  ) => (
    <Axis aria-label={name}>
      <h3>{name}</h3>
      {settings.method === 'edges' && edges(key, name)}
      {words(key, plan?.[key], figure, inside)}
    </Axis>
  );
  return (
    <>
      <Row>
        <Button isDisabled={samples.length === 0} onPress={() => void (looking ? stop() : suggest())}>
          {looking ? 'Stop trying' : 'Suggest a method'}
        </Button>
        {looking && <Quiet role="status">Trying methods on the sample …</Quiet>}
      </Row>
      {search.found?.straighten && source && leadSample && (
        <StraightenRow recipe={recipe} source={source} sample={leadSample} frame={search.found.straighten} />
      )}
      {settings.why.length > 0 && (
        <Why aria-label="Why this method">
          {settings.why.map((reason) => (
            <li key={reason}>{reason}</li>
          ))}
        </Why>
      )}
      {settings.why.length > 0 && tried.length > 1 && (
        <TriedMethods
          tried={tried}
          using={tried.find((method) => isUsed(method, settings)) ?? null}
          onUse={(method) => change('method tried', { ...method.settings, why: settings.why })}
        />
      )}
      {fault && <Sentence>{fault}</Sentence>}
      {pieces && <PiecesLine recipe={recipe} samples={samples} pieces={pieces} />}
      <OneOf
        label="How the repeat is made"
        value={settings.method}
        options={WAYS}
        onChange={(method) => change('method', { method })}
      />
      {settings.method === 'composed' && (
        <>
          <ComposeBlock
            settings={settings}
            structured={Boolean(plan?.pitchMm.across || plan?.pitchMm.up)}
            ofBoards={Boolean(made?.boards)}
            plan={plan}
            change={change}
          />
          <Arrangements recipe={recipe} change={change} drawn={drawn} />
        </>
      )}
      <StructureBlock recipe={recipe} plan={plan} size={size} search={search} change={change} />
      {axis('across', 'Horizontal', seam?.acrossWidth, seam?.inside.acrossWidth)}
      {axis('up', 'Vertical', seam?.acrossHeight, seam?.inside.acrossHeight)}
      <Quiet>
        {report &&
          `The size is known to ± ${printLength(report.repeatToleranceMm.width, units, 1)} and ${printLength(report.repeatToleranceMm.height, units, 1)}. `}
        {report && madeOf(report)}A seam of 1.00 has the same contrast as the inside.
        {settings.method === 'edges' &&
          [settings.across, settings.up].some((axis) => axis.closing === 'blend') &&
          ' A blend keeps the sample’s own contrast.'}
      </Quiet>
    </>
  );
}
