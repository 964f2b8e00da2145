import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import styled from 'styled-components';
import {
  detailOf,
  planRelief,
  reliefViewSchema,
  type ReliefPlan,
  type ReliefView,
} from '@jossel/core/schedule';
import { printNumber } from '@jossel/core/units';
import { settingsSlice } from '../../../app/settings-slice';
import { useAppDispatch } from '../../../app/store';
import { Tick } from '../../../controls/amounts';
import { Quiet } from '../../../controls/basics';
import { CAMERA_FIGURES, CameraField } from '../../../controls/camera-fields';
import { NumberField } from '../../../controls/fields';
import { SurfaceChoice } from '../SurfaceChoice';
import { benchSlice } from '../../bench-slice';
import { MeshView } from './MeshView';
import type { Drawn } from '../../../workers/render.worker';

const MeshChart = lazy(async () => ({ default: (await import('../charts')).MeshChart }));

const Fields = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin: 8px 0;
`;
const Facts = styled.dl`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  margin: 0;
  dt {
    color: ${({ theme }) => theme.quiet};
  }
  dd {
    margin: 0;
    text-align: right;
    white-space: nowrap;
    font-variant-numeric: tabular-nums;
  }
`;
const Block = styled.details`
  border-top: 1px solid ${({ theme }) => theme.line};
  padding-top: 8px;
  summary {
    cursor: pointer;
    font-weight: 600;
  }
`;

const BEGINNING: ReliefView = reliefViewSchema.parse({
  objectMm: { width: 4000, height: 2700 },
  distanceMm: 3000,
  cameraDeg: 30,
});

/** What a surface of this finish must be made of for a camera: colour, normals or a mesh, how fine, and why. */
export function PlanPanel({ drawn }: { drawn: Drawn }) {
  const [view, setView] = useState(BEGINNING);
  const [open, setOpen] = useState(false);
  const plan = useMemo(() => (open ? planFor(drawn, view) : null), [open, drawn, view]);
  const change = (part: Partial<ReliefView>) => setView((v) => ({ ...v, ...part }));
  return (
    <Block onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>Mesh for a camera</summary>
      {open && <SurfaceChoice sizeMm={view.objectMm} onChange={(objectMm) => change({ objectMm })} />}
      <Fields>
        {(['width', 'height'] as const).map((side) => (
          <NumberField
            key={side}
            label={`Surface ${side}`}
            unit="mm"
            value={view.objectMm[side]}
            min={1}
            max={1e6}
            onChange={(mm) => change({ objectMm: { ...view.objectMm, [side]: mm } })}
          />
        ))}
        {CAMERA_FIGURES.map((figure) => (
          <CameraField
            key={figure}
            figure={figure}
            value={view[figure]}
            onChange={(value) => change({ [figure]: value })}
          />
        ))}
      </Fields>
      {plan && <Planned drawn={drawn} plan={plan} view={view} />}
    </Block>
  );
}

function planFor({ heightMm: data, widthPx, heightPx, report }: Drawn, view: ReliefView): ReliefPlan {
  const { width, height } = report.repeatMm;
  const plane = { widthPx, heightPx, data };
  const detail = detailOf(plane, { x: width / widthPx, y: height / heightPx });
  return planRelief({ detail, heightMm: report.heightMm }, view);
}

/** So many edges are seen across the proof: enough of the finish, and far enough apart to be told. */
const EDGES_OVER_PROOF = 36;

/** Draws the mesh over the proof, from its camera; as long as this is open and ticked. */
function MeshOverProof({ plan, view }: { plan: ReliefPlan; view: ReliefView }) {
  const dispatch = useAppDispatch();
  const [on, setOn] = useState(false);
  const { spacingMm } = plan;
  const { distanceMm, cameraDeg } = view;
  const acrossMm = EDGES_OVER_PROOF * spacingMm;
  useEffect(() => {
    if (!on) return;
    dispatch(
      benchSlice.actions.changed({
        form: 'panel',
        mapOnForm: false,
        mesh: { spacingMm, distanceMm, cameraDeg, acrossMm },
      }),
    );
    return () => void dispatch(benchSlice.actions.changed({ mesh: null }));
  }, [on, dispatch, spacingMm, distanceMm, cameraDeg, acrossMm]);
  return (
    <Tick
      name="Its edges over the proof, from this camera"
      value={on}
      onChange={(next) => {
        if (next) dispatch(settingsSlice.actions.changed({ proofFolded: false }));
        setOn(next);
      }}
    />
  );
}

const NEEDS = { colour: 'Colour alone', normals: 'Normals', displacement: 'A displaced mesh' } as const;

function Planned({ drawn, plan, view }: { drawn: Drawn; plan: ReliefPlan; view: ReliefView }) {
  const { id } = useParams();
  const mm = (value: number) => `${printNumber(value, value < 10 ? 2 : 0)}\u2009mm`;
  return (
    <section aria-label="Plan of the relief" style={{ display: 'grid', gap: 8 }}>
      <strong>{NEEDS[plan.need]}</strong>
      <span>{plan.why}</span>
      {plan.need === 'displacement' && (
        <>
          <Facts>
            <dt>Edges of the mesh</dt>
            <dd>
              {mm(plan.spacingMm)}, {printNumber(plan.spacingPx, 1)} px
            </dd>
            <dt>Halvings of its edges</dt>
            <dd>{plan.halvings}</dd>
            <dt>Depth reserve, out, in</dt>
            <dd>
              {mm(plan.depthReserveMm.out)}, {mm(plan.depthReserveMm.in)}
            </dd>
            <dt>Normals take waves below</dt>
            <dd>{mm(plan.splitMm!)}</dd>
            <dt>In the picture, with margin</dt>
            <dd>{printNumber(100 * plan.inPicture.share, 0)} %</dd>
          </Facts>
          <MeshView drawn={drawn} plan={plan} view={view} />
          <MeshOverProof plan={plan} view={view} />
          <Suspense fallback={<Quiet>Drawing the chart …</Quiet>}>
            <MeshChart choices={plan.choices} planned={plan} errorPx={view.errorPx} />
          </Suspense>
          <Link to={`/handovers?finish=${id}&split=${plan.splitMm!.toPrecision(3)}`}>
            Hand over with relief for this mesh
          </Link>
          {plan.inPicture.share < 1 && (
            <Quiet>Beyond the picture edges are {plan.inPicture.coarser} times as long.</Quiet>
          )}
        </>
      )}
    </section>
  );
}
