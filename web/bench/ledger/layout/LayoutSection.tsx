import { useEffect, useRef, useState } from 'react';
import { usableAreas, type Recipe } from '@jossel/core/finish';
import {
  bondOf,
  SHADE_GRADES,
  type LaidReport,
  type LayoutSettings,
  type ShadeGrade,
} from '@jossel/core/layout';
import type { SampleGeometry } from '@jossel/core/sources';
import { printArea, printNumber } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Tick } from '../../../controls/amounts';
import { Button, OneOf, OnOff, Quiet, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { benchSlice } from '../../bench-slice';
import { Block } from '../size/Block';
import { useChangeRecipe } from '../use-change';
import { BlendBlock } from './BlendBlock';
import { BondSettings } from './BondSettings';
import { BondSheet } from './BondSheet';
import { LabFields } from './LabFields';
import { firstLayout, layoutFor } from './layout-for';
import { ArrisChoice, ProfileChoice } from './Profiles';
import { TakeOffBlock } from './TakeOffBlock';

type Change = (what: string, change: Partial<LayoutSettings>) => void;
interface PanelProps {
  layout: LayoutSettings;
  change: Change;
}

/** How the finish is laid of pieces: bond, sizes, joints, arrises, faces, blend. */
export function LayoutSection({
  finishId,
  recipe,
  geometry,
  report,
}: {
  finishId: string;
  recipe: Recipe;
  /** Of the leading picture. */
  geometry: SampleGeometry | null;
  report: LaidReport | null;
}) {
  const { layout } = recipe;
  const put = useChangeRecipe();
  const dispatch = useAppDispatch();
  const [choosing, setChoosing] = useState(false);
  const chosen = useRef(false);
  const sheetButton = useRef<HTMLButtonElement>(null);
  const lay = (what: string, next: LayoutSettings | null) =>
    put(`layout ${what}`, { ...recipe, layout: next });
  const choose = (kind: string) => {
    lay('bond', layout ? layoutFor(kind, layout) : firstLayout(kind, recipe, geometry));
    dispatch(benchSlice.actions.changed({ bondOver: null }));
    setChoosing(false);
    chosen.current = true;
  };
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
          cut from {countAreas(recipe) > 0 ? 'the picked areas' : 'the repeat'} at true size.
        </Quiet>
        <BondSheet layout={null} onChoose={choose} />
      </>
    );
  const change: Change = (what, part) => lay(what, { ...layout, ...part });
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
      <JointBlock layout={layout} change={change} />
      <ArrisBlock layout={layout} change={change} />
      <FacesBlock layout={layout} change={change} report={report} areas={countAreas(recipe)} />
      <ToneBlock layout={layout} change={change} />
      <BlendBlock layout={layout} change={change} />
      {report && <TakeOffBlock finishId={finishId} layout={layout} report={report} />}
      <Row>
        <Button onPress={() => lay('none', null)}>Remove the layout</Button>
        <Quiet>The repeat stays as it is.</Quiet>
      </Row>
    </>
  );
}

const countAreas = (recipe: Recipe) => recipe.sources.reduce((sum, s) => sum + usableAreas(s).length, 0);

function PieceBlock({ layout, change, report }: PanelProps & { report: LaidReport | null }) {
  const { piece, bond } = layout;
  const { sized } = bondOf(bond.kind);
  const put = (what: string, part: Partial<LayoutSettings['piece']>) =>
    change(what, { piece: { ...piece, ...part } });
  const closes =
    report &&
    Math.abs(report.laid.lengthMm - piece.lengthMm.value) +
      Math.abs(report.laid.widthMm - piece.widthMm.value) <
      0.005;
  const others = closes ? [] : (report?.closing.slice(1) ?? []);
  return (
    <Block>
      <h3>Piece</h3>
      {sized === 'both' && (
        <FigureField
          label="Length of a piece"
          figure={piece.lengthMm}
          unit="mm"
          min={1}
          max={100000}
          onChange={(lengthMm) => put('length', { lengthMm })}
        />
      )}
      <FigureField
        label="Width of a piece"
        figure={piece.widthMm}
        unit="mm"
        min={1}
        max={100000}
        onChange={(widthMm) => put('width', { widthMm })}
      />
      {report && others.length > 0 && (
        <Row $gap={4}>
          <Quiet>
            Laid {printNumber(report.laid.lengthMm, 1)} × {printNumber(report.laid.widthMm, 1)}; also closes
            with
          </Quiet>
          {others.map(({ lengthMm, widthMm }) => (
            <Button
              key={`${lengthMm} ${widthMm}`}
              onPress={() =>
                put('closing', {
                  lengthMm: { ...piece.lengthMm, value: Number(lengthMm.toFixed(3)) },
                  widthMm: { ...piece.widthMm, value: Number(widthMm.toFixed(3)) },
                })
              }
            >
              {printNumber(lengthMm, 1)} × {printNumber(widthMm, 1)}
            </Button>
          ))}
        </Row>
      )}
    </Block>
  );
}

function RepeatBlock({ layout, change, report }: PanelProps & { report: LaidReport | null }) {
  const units = useAppSelector((s) => s.settings.units);
  const hatch = useAppSelector((s) => s.bench.hatch);
  const dispatch = useAppDispatch();
  const { repeatMm, turnedDeg, seed } = layout;
  return (
    <Block>
      <h3>Repeat of the layout</h3>
      <div className="three">
        <NumberField
          label="Width, about"
          unit="mm"
          value={repeatMm.width}
          min={1}
          max={1000000}
          digits={0}
          onChange={(width) => change('repeat', { repeatMm: { ...repeatMm, width } })}
        />
        <NumberField
          label="Height, about"
          unit="mm"
          value={repeatMm.height}
          min={1}
          max={1000000}
          digits={0}
          onChange={(height) => change('repeat', { repeatMm: { ...repeatMm, height } })}
        />
      </div>
      {report && (
        <Quiet>
          Closes at {printArea(report.repeatMm, units)}: {report.pieces} pieces
          {report.courses > 1 && ` in ${report.courses} courses`}
        </Quiet>
      )}
      <Row>
        <OneOf
          label="Direction of laying"
          value={turnedDeg}
          options={[
            { value: 0, name: 'level' },
            { value: 90, name: 'upright' },
          ]}
          onChange={(deg) => change('turn', { turnedDeg: deg as 0 | 90 })}
        />
        <OnOff
          name="lines on the plate"
          value={hatch}
          onChange={(on) => dispatch(benchSlice.actions.changed({ hatch: on }))}
        />
        <Button onPress={() => change('arrangement', { seed: (seed % 9999) + 1 })}>Arrange anew</Button>
      </Row>
    </Block>
  );
}

function JointBlock({ layout, change }: PanelProps) {
  const { joint } = layout;
  const put = (what: string, part: Partial<LayoutSettings['joint']>) =>
    change(`joint ${what}`, { joint: { ...joint, ...part } });
  return (
    <Block>
      <h3>Joints</h3>
      <FigureField
        label="Joint along"
        figure={joint.alongMm}
        unit="mm"
        min={0}
        max={1000}
        onChange={(alongMm) => put('along', { alongMm })}
      />
      <FigureField
        label="Joint across"
        figure={joint.acrossMm}
        unit="mm"
        min={0}
        max={1000}
        onChange={(acrossMm) => put('across', { acrossMm })}
      />
      <FigureField
        label="Depth of the joint"
        figure={joint.depthMm}
        unit="mm"
        min={0}
        max={200}
        onChange={(depthMm) => put('depth', { depthMm })}
      />
      <ProfileChoice
        value={joint.profile}
        widthMm={joint.alongMm.value}
        depthMm={joint.depthMm.value}
        onChange={(profile) => put('profile', { profile })}
      />
      <LabFields of="the joint" value={joint.lab} onChange={(lab) => put('colour', { lab })} />
      <div className="three">
        <NumberField
          label="Gloss of the joint"
          unit="GU"
          value={joint.glossGu}
          min={0}
          max={100}
          onChange={(glossGu) => put('gloss', { glossGu })}
        />
        <NumberField
          label="Grain of the joint"
          unit="mm"
          value={joint.grainMm}
          min={0}
          max={20}
          onChange={(grainMm) => put('grain', { grainMm })}
        />
      </div>
    </Block>
  );
}

function ArrisBlock({ layout, change }: PanelProps) {
  const { arris } = layout;
  const put = (what: string, part: Partial<LayoutSettings['arris']>) =>
    change(`arris ${what}`, { arris: { ...arris, ...part } });
  return (
    <Block>
      <h3>Arrises</h3>
      <ArrisChoice
        value={arris.form}
        sizeMm={arris.sizeMm.value}
        onChange={(form) => put('form', { form })}
      />
      {arris.form !== 'square' && (
        <>
          <FigureField
            label="Width of the arris"
            figure={arris.sizeMm}
            unit="mm"
            min={0}
            max={100}
            onChange={(sizeMm) => put('size', { sizeMm })}
          />
          <Row>
            <OneOf
              label="Sides with an arris"
              value={arris.sides}
              options={[
                { value: 'all', name: 'all sides' },
                { value: 'long', name: 'long sides' },
              ]}
              onChange={(sides) => put('sides', { sides })}
            />
            <NumberField
              label="Unevenness, 0 to 1"
              unit="×"
              value={arris.uneven}
              min={0}
              max={1}
              onChange={(uneven) => put('uneven', { uneven })}
            />
          </Row>
        </>
      )}
    </Block>
  );
}

function FacesBlock({
  layout,
  change,
  report,
  areas,
}: PanelProps & { report: LaidReport | null; areas: number }) {
  const { faces } = layout;
  const put = (what: string, part: Partial<LayoutSettings['faces']>) =>
    change(`faces ${what}`, { faces: { ...faces, ...part } });
  return (
    <Block>
      <h3>Faces</h3>
      <OneOf
        label="Pieces are cut from"
        value={faces.from}
        options={[
          { value: 'repeat', name: 'the repeat' },
          ...(areas > 0 || faces.from === 'areas'
            ? [{ value: 'areas' as const, name: `${areas} picked areas` }]
            : []),
        ]}
        onChange={(from) => put('from', { from })}
      />
      <Tick
        name="May be turned by 180°"
        value={faces.halfTurn}
        onChange={(halfTurn) => put('half turn', { halfTurn })}
      />
      <Tick name="May be mirrored" value={faces.mirror} onChange={(mirror) => put('mirror', { mirror })} />
      <div className="three">
        <NumberField
          label="Grain in the picture"
          unit="deg"
          value={faces.grainDeg}
          min={-360}
          max={360}
          digits={1}
          onChange={(grainDeg) => put('grain', { grainDeg })}
        />
      </div>
      {report?.timesEach && (
        <Quiet>
          {faces.from === 'areas'
            ? `Each area is shown ${printNumber(report.timesEach, 1)} times in the repeat.`
            : `The pieces take ${printNumber(report.timesEach, 1)} times the area of the picture.`}
        </Quiet>
      )}
    </Block>
  );
}

const GRADES = Object.keys(SHADE_GRADES) as ShadeGrade[];

function ToneBlock({ layout, change }: PanelProps) {
  const { shade, tolerance } = layout;
  const number = <K extends 'shade' | 'tolerance'>(
    of: K,
    key: keyof LayoutSettings[K] & string,
    label: string,
    unit: 'mm' | 'deg' | '×',
    max: number,
  ) => (
    <NumberField
      key={key}
      label={label}
      unit={unit}
      value={layout[of][key] as number}
      min={0}
      max={max}
      onChange={(v) => change(key, { [of]: { ...layout[of], [key]: v } })}
    />
  );
  const grade = GRADES.find((g) => SHADE_GRADES[g] === shade.lightness);
  return (
    <Block>
      <h3>Shade variation</h3>
      <Row $gap={4}>
        {['none', ...GRADES].map((name) => (
          <OnOff
            key={name}
            name={name}
            value={name === 'none' ? shade.lightness === 0 : name === grade}
            onChange={() =>
              change('grade', {
                shade: { ...shade, lightness: name === 'none' ? 0 : SHADE_GRADES[name as ShadeGrade] },
              })
            }
          />
        ))}
      </Row>
      <div className="three">
        {number('shade', 'lightness', 'Spread of L*', '×', 30)}
        {number('shade', 'chroma', 'Spread of C*', '×', 30)}
        {number('shade', 'hueDeg', 'Spread of hue', 'deg', 60)}
      </div>
      <h3>Tolerances of laying</h3>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
        {number('tolerance', 'lippageMm', 'Lippage', 'mm', 20)}
        {number('tolerance', 'tiltMm', 'Tilt, across a piece', 'mm', 20)}
        {number('tolerance', 'turnDeg', 'Turn, at most', 'deg', 10)}
        {number('tolerance', 'sizeMm', 'Size, at most', 'mm', 20)}
      </div>
      {tolerance.turnDeg > 0 && (
        <Quiet>Pieces are turned and sized only as far as the joints leave room.</Quiet>
      )}
    </Block>
  );
}
