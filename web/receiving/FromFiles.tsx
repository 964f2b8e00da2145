import { DropZone, FileTrigger, Text, type FileDropItem } from 'react-aria-components';
import styled from 'styled-components';
import type { Origin } from '../app/api';
import { Button, Quiet } from '../controls/basics';
import { Field, TextBox } from '../controls/fields';
import { ORIGIN_FIELDS } from '../samples/origin';

const Zone = styled(DropZone)`
  border: 1px dashed ${({ theme }) => theme.strong};
  background: ${({ theme }) => theme.sheet};
  padding: 22px 18px;
  display: grid;
  gap: 10px;
  justify-items: start;
  &[data-drop-target] {
    border: 2px solid ${({ theme }) => theme.mark};
    padding: 21px 17px;
  }
`;

/** Files that are dropped or chosen, with where they come from. */
export function FromFiles({
  origin,
  onOrigin,
  onFiles,
}: {
  origin: Partial<Origin>;
  onOrigin: (origin: Partial<Origin>) => void;
  onFiles: (files: File[]) => void;
}) {
  return (
    <>
      <Zone
        onDrop={(e) => {
          const files = e.items.filter((i): i is FileDropItem => i.kind === 'file');
          void Promise.all(files.map((f) => f.getFile())).then(onFiles);
        }}
      >
        <Text slot="label">Drop pictures of samples here</Text>
        <FileTrigger
          allowsMultiple
          acceptedFileTypes={['image/png', 'image/jpeg', 'image/tiff', 'image/webp']}
          onSelect={(list) => list && onFiles([...list])}
        >
          <Button weight="main">Choose files</Button>
        </FileTrigger>
        <Quiet>PNG, JPEG, TIFF or WebP, 8 or 16 bit, up to 256 MiB and 200 million pixels each</Quiet>
      </Zone>
      <fieldset style={{ border: 0, padding: 0, margin: 0, display: 'grid', gap: 7 }}>
        <legend style={{ padding: 0, fontWeight: 650, marginBottom: 4 }}>Where they come from</legend>
        <Quiet>Kept from the last time; goes with the next pictures and can be corrected for each.</Quiet>
        {ORIGIN_FIELDS.map(([key, name]) => (
          <Field key={key}>
            <label htmlFor={`origin-${key}`}>{name}</label>
            <TextBox
              id={`origin-${key}`}
              value={origin[key] ?? ''}
              onChange={(e) => onOrigin({ ...origin, [key]: e.target.value })}
            />
          </Field>
        ))}
      </fieldset>
    </>
  );
}
