import type { LayoutSettings } from '@jossel/core/layout';
import { NumberField } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';
import { FinishChoice } from './FinishChoice';
import { LabFields } from './LabFields';
import { ProfileChoice } from './Profiles';
import type { PanelProps } from './panel-props';

/** Widths, depth, profile and colour of the joints. */
export function JointBlock({ finishId, layout, change }: PanelProps & { finishId: string }) {
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
      <FinishChoice
        label="Made of another finish"
        finishId={finishId}
        value={joint.finish}
        onChange={(finish) => put('finish', { finish })}
      />
      {!joint.finish && <PlainJoint joint={joint} put={put} />}
    </Block>
  );
}

/** Colour, gloss and grain of joints that are of no finish. */
function PlainJoint({
  joint,
  put,
}: {
  joint: LayoutSettings['joint'];
  put: (what: string, part: Partial<LayoutSettings['joint']>) => void;
}) {
  return (
    <>
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
    </>
  );
}
