import { useEffect, useRef, useState } from 'react';
import { leadingPicture, usableAreas, type Recipe } from '@jossel/core/finish';
import { leavesOf } from '@jossel/core/generate';
import { bondOf, type LaidReport, type LayoutSettings } from '@jossel/core/layout';
import type { SampleGeometry } from '@jossel/core/sources';
import type { Sample } from '../../../app/api';
import { Button, Quiet, Row } from '../../../controls/basics';
import { usePickedPieces } from '../../use-picked-pieces';
import { Block } from '../size/Block';
import { useChangeRecipe } from '../use-change';
import { ArrisBlock } from './ArrisBlock';
import { BlendBlock } from './BlendBlock';
import { BondSettings } from './BondSettings';
import { BondSheet } from './BondSheet';
import { FacesBlock } from './FacesBlock';
import { JointBlock } from './JointBlock';
import { firstLayout, layoutFor } from './layout-for';
import type { PanelProps } from './panel-props';
import { PieceBlock } from './PieceBlock';
import { RepeatBlock } from './RepeatBlock';
import { TakeOffBlock } from './TakeOffBlock';
import { ToneBlock } from './ToneBlock';

/** How the finish is laid of pieces: bond, sizes, joints, arrises, faces, blend. */
export function LayoutSection({
  finishId,
  recipe,
  samples,
  geometry,
  report,
}: {
  finishId: string;
  recipe: Recipe;
  samples: readonly Sample[];
  /** Of the leading picture. */
  geometry: SampleGeometry | null;
  report: LaidReport | null;
}) {
  const { layout } = recipe;
  const put = useChangeRecipe();
  const { pick, picking, said } = usePickedPieces(recipe, samples);
  const [choosing, setChoosing] = useState(false);
  const chosen = useRef(false);
  const sheetButton = useRef<HTMLButtonElement>(null);
  const lay = (what: string, next: LayoutSettings | null) =>
    put(`layout ${what}`, { ...recipe, layout: next });
  const choose = (kind: string) => {
    lay('bond', layout ? layoutFor(kind, layout) : firstLayout(kind, recipe, geometry));
    setChoosing(false);
    chosen.current = true;
  };
  async function layPicked() {
    const first = leadingPicture(recipe);
    const next = first && (await pick(first.id));
    if (next) put('layout picked pieces', next.laid);
  }
  // The bond that was pressed is gone with its sheet: the focus goes to what opens it again.
  useEffect(() => {
    if (!chosen.current || choosing) return;
    chosen.current = false;
    sheetButton.current?.focus();
  });
  if (!layout)
    return (
      <>
        <Quiet>
          The finish is one repeat. Choose a bond to lay it of pieces: boards, bricks, tiles, stones. They are
          cut from{' '}
          {countAreas(recipe) > 0 ? (recipe.generated ? 'its leaves' : 'the picked areas') : 'the repeat'} at
          true size.
        </Quiet>
        {!recipe.generated && (
          <Row>
            <Button isDisabled={picking || !geometry} onPress={() => void layPicked()}>
              {picking ? 'Looking for pieces …' : 'Lay the pieces of the sample'}
            </Button>
          </Row>
        )}
        {said && <p role="status">{said}</p>}
        <BondSheet layout={null} onChoose={choose} />
      </>
    );
  const change: PanelProps['change'] = (what, part) => lay(what, { ...layout, ...part });
  return (
    <>
      <Block>
        <Row style={{ justifyContent: 'space-between' }}>
          <h3>{bondOf(layout.bond.kind).name}</h3>
          <Button ref={sheetButton} aria-expanded={choosing} onPress={() => setChoosing(!choosing)}>
            {choosing ? 'Close the bond sheet' : 'Bond sheet'}
          </Button>
        </Row>
        {choosing && <BondSheet layout={layout} onChoose={choose} />}
        <BondSettings
          bond={layout.bond}
          onChange={(what, part) => change(what, { bond: { ...layout.bond, ...part } })}
        />
      </Block>
      <PieceBlock layout={layout} change={change} report={report} />
      <RepeatBlock layout={layout} change={change} report={report} />
      <JointBlock finishId={finishId} layout={layout} change={change} />
      <ArrisBlock layout={layout} change={change} />
      <FacesBlock
        layout={layout}
        change={change}
        report={report}
        areas={countAreas(recipe)}
        generated={recipe.generated !== null}
        picking={picking}
        onPick={() => void layPicked()}
        said={said}
      />
      <ToneBlock layout={layout} change={change} />
      <BlendBlock finishId={finishId} layout={layout} change={change} kinds={report?.kinds ?? []} />
      {report && <TakeOffBlock finishId={finishId} layout={layout} report={report} />}
      <Row>
        <Button onPress={() => lay('none', null)}>Remove the layout</Button>
        <Quiet>The repeat stays as it is.</Quiet>
      </Row>
    </>
  );
}

/** Areas that pieces can be cut from one by one: those picked in pictures, or the leaves of what is generated. */
const countAreas = (recipe: Recipe) =>
  recipe.generated
    ? leavesOf(recipe.generated).length
    : recipe.sources.reduce((sum, s) => sum + usableAreas(s).length, 0);
