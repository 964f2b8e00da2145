import styled from 'styled-components';
import { useState } from 'react';
import { REPORT_PICTURES, type ReportPicture } from '@jossel/core/sample';
import type { Sample } from '../app/api';
import { OneOf, Quiet } from '../controls/basics';

const Picture = styled.img`
  width: 100%;
  max-height: 190px;
  object-fit: contain;
  background: #919191;
  display: block;
`;
type Shows = 'picture' | ReportPicture;
const OPTIONS: readonly { value: Shows; name: string }[] = [
  { value: 'picture', name: 'picture' },
  ...REPORT_PICTURES.map((value) => ({ value, name: value })),
];
const WORDS: Record<Shows, string> = {
  picture: 'As received.',
  clipped: 'Hatched ╱ is burnt out, hatched ╲ is fully black; all else is shown in grey.',
  evenness: 'Light in steps of 5 % about the middle; one tone: evenly lit, as far as the finish tells.',
  sharpness: 'White is crisp down to single pixels, black is soft or without detail.',
};

/** A sample, and what its report says, as pictures. */
export function ReportPictures({ sample }: { sample: Sample }) {
  const [shows, setShows] = useState<Shows>('picture');
  return (
    <div style={{ display: 'grid', gap: 5 }}>
      <Picture
        src={
          shows === 'picture'
            ? `/api/samples/${sample.id}/preview.jpg`
            : `/api/samples/${sample.id}/report/${shows}.png`
        }
        alt={
          shows === 'picture'
            ? `Sample ${sample.fileName} as received`
            : `Sample ${sample.fileName}: ${shows}`
        }
        loading="lazy"
      />
      <OneOf compact label="What the report shows" value={shows} options={OPTIONS} onChange={setShows} />
      <Quiet style={{ fontSize: 12 }}>{WORDS[shows]}</Quiet>
    </div>
  );
}
