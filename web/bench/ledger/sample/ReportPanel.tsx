import { goodFor } from '@jossel/core/sample';
import { printNumber } from '@jossel/core/units';
import { api } from '../../../app/api';
import { Fault } from '../../../app/Fault';
import { Quiet } from '../../../controls/basics';
import { Field, TextLine } from '../../../controls/fields';
import { ORIGIN_FIELDS } from '../../../samples/origin';
import { ReportPictures } from '../../../samples/report';
import type { PanelProps } from './panel-props';

/** What the sample is good for, and where it came from. */
export function ReportPanel({ sample, geometry }: PanelProps) {
  const [correct, { error }] = api.useCorrectOriginMutation();
  const good =
    geometry &&
    goodFor(sample.report, Math.min(geometry.size.pxPerMm.x, geometry.size.pxPerMm.y), geometry.usedMm.width);
  return (
    <>
      <ReportPictures sample={sample} />
      <ul style={{ margin: 0, paddingLeft: 16 }}>
        {good && <li>{good.sentence}</li>}
        {sample.report.sentences.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
      <Quiet>
        {sample.widthPx} × {sample.heightPx} px, {sample.bitDepth} bit, {sample.profile}, from{' '}
        {sample.cameFrom === 'file'
          ? 'a file'
          : sample.cameFrom === 'supplier'
            ? 'the supplier'
            : 'the capture bench'}
        {sample.pxPerMm && `, ${printNumber(sample.pxPerMm, 2)} px per mm by its tag`}
      </Quiet>
      {ORIGIN_FIELDS.map(([key, name]) => (
        <Field key={key}>
          <label htmlFor={`sample-${key}`}>{name}</label>
          <TextLine
            id={`sample-${key}`}
            value={sample.origin[key]}
            onChange={(value) => void correct({ id: sample.id, origin: { [key]: value } })}
          />
        </Field>
      ))}
      <Fault error={error} />
    </>
  );
}
