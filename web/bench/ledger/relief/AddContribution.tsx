import { jointsContribution, pictureContribution, type FinishPieces, type Recipe } from '@jossel/core/finish';
import type { ReliefContribution } from '@jossel/core/relief';
import { figure, printNumber } from '@jossel/core/units';
import { Quiet, Row } from '../../../controls/basics';
import { Actions } from '../../../controls/menu';
import { newId } from '../../new-id';
import type { NamedPart } from '../parts';

/** Depth that is begun with, until a better one is known, mm. */
const BEGINNING_MM = { joints: 2, part: 0.5, generated: 0.2, profile: 2 };

const withoutColourOut = ({ colourOut: _, ...rest }: ReturnType<typeof pictureContribution>) => rest;

/** What can be added to a relief: only what this finish has. */
export function AddContribution({
  recipe,
  pieces,
  usedMm,
  parts,
  onAdd,
}: {
  recipe: Recipe;
  pieces: FinishPieces | null;
  usedMm: { width: number; height: number } | null;
  parts: readonly NamedPart[];
  onAdd: (added: ReliefContribution) => void;
}) {
  const { contributions } = recipe.relief;
  const maps = new Set(recipe.sources.flatMap((s) => s.maps.map((m) => m.role)));
  const has = (kind: ReliefContribution['kind']) => contributions.some((c) => c.kind === kind);
  const assumed = (mm: number) => figure(mm, 'mm', 'assumed');
  const sideMm = usedMm ? Math.min(usedMm.width, usedMm.height) : 500;
  const picture = pictureContribution(usedMm ?? { width: sideMm, height: sideMm });
  const round = (mm: number) => Number(mm.toPrecision(2));
  const part =
    parts.find((p) => !contributions.some((c) => c.kind === 'part' && c.part === p.id)) ?? parts[0];
  const joints = usedMm !== null && !has('joints') ? (pieces?.joints ?? null) : null;
  return (
    <Row>
      <Actions
        label="Add a contribution"
        text="Add a contribution"
        actions={[
          {
            name: 'Lightness of the picture',
            run: () => onAdd({ ...picture, id: newId() }),
          },
          {
            name: 'Joints of the picture',
            disabled: !joints,
            run: () =>
              joints &&
              usedMm &&
              onAdd({
                ...jointsContribution(joints, usedMm, assumed(BEGINNING_MM.joints)),
                id: newId(),
              }),
          },
          {
            name: 'Level of a part',
            disabled: !part,
            run: () =>
              part &&
              onAdd({
                kind: 'part',
                id: newId(),
                name: part.name,
                depthMm: assumed(BEGINNING_MM.part),
                part: part.id,
                raised: false,
                edgeMm: 0.5,
              }),
          },
          {
            name: 'Map of the set',
            disabled: !maps.has('height') && !maps.has('normal'),
            run: () =>
              onAdd({
                ...withoutColourOut(picture),
                kind: 'map',
                id: newId(),
                name: 'Map of the set',
                depthMm: assumed(1),
              }),
          },
          {
            name: 'Profile: waves, flutes, reeds',
            run: () =>
              onAdd({
                kind: 'profile',
                id: newId(),
                name: 'Profile',
                depthMm: assumed(BEGINNING_MM.profile),
                shape: 'flutes',
                pitchMm: round(sideMm / 20),
                along: 'height',
              }),
          },
          {
            name: 'Generated variation',
            run: () =>
              onAdd({
                kind: 'generated',
                id: newId(),
                name: 'Variation',
                depthMm: assumed(BEGINNING_MM.generated),
                longestMm: round(sideMm / 8),
                shortestMm: round(sideMm / 200),
                stretch: 1,
                along: 'width',
                falloff: 0.5,
                seed: 1 + contributions.length,
              }),
          },
        ]}
      />
      {joints && pieces && (
        <Quiet>
          {printNumber(pieces.pieces, 0)} pieces are seen, with {joints.look} joints.
        </Quiet>
      )}
    </Row>
  );
}
