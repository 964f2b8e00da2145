import { Link } from 'react-router';
import { printNumber } from '@jossel/core/units';
import { api, sentenceOf, type Origin, type Sample } from '../../app/api';
import { Quiet, Sentence } from '../../controls/basics';
import { Field, TextLine } from '../../controls/fields';

const FIELDS: readonly [keyof Origin, string][] = [
  ['supplier', 'Supplier'],
  ['line', 'Line'],
  ['code', 'Code'],
  ['batch', 'Batch'],
  ['permission', 'Permission to use'],
  ['note', 'Note'],
];

/** What the finish is made from, and where it came from. */
export function SampleSection({ sample }: { sample: Sample | undefined }) {
  const [correct, { error }] = api.useCorrectOriginMutation();
  if (!sample)
    return (
      <p>
        No picture yet. <Link to="/receiving">Bring one in</Link>.
      </p>
    );
  return (
    <>
      <img
        src={`/api/samples/${sample.id}/preview.jpg`}
        alt={`Sample ${sample.fileName} as received`}
        style={{
          width: '100%',
          maxHeight: 160,
          objectFit: 'contain',
          background: '#919191',
          display: 'block',
        }}
      />
      <Quiet>
        {sample.widthPx} × {sample.heightPx} px, {sample.bitDepth} bit, {sample.profile}
        {sample.pxPerMm && `, ${printNumber(sample.pxPerMm, 2)} px per mm by its tag`}
      </Quiet>
      <ul style={{ margin: 0, paddingLeft: 16 }}>
        {sample.report.sentences.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
      {FIELDS.map(([key, name]) => (
        <Field key={key}>
          <label htmlFor={`sample-${key}`}>{name}</label>
          <TextLine
            id={`sample-${key}`}
            value={sample.origin[key]}
            onChange={(value) => void correct({ id: sample.id, origin: { [key]: value } })}
          />
        </Field>
      ))}
      {error && <Sentence>{sentenceOf(error)}</Sentence>}
    </>
  );
}
