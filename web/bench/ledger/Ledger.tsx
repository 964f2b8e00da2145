import styled from 'styled-components';
import { Disclosure, DisclosurePanel, Button, Heading } from 'react-aria-components';
import {
  resolveRepeat,
  resolveSample,
  type Recipe,
  type SampleGeometry,
  type Section,
} from '@jossel/core/finish';
import { basisOfColour } from '@jossel/core/light';
import { useMemo } from 'react';
import { printArea, printLength, printNumber, weakestBasis, type Basis } from '@jossel/core/units';
import type { Finish, Sample } from '../../app/api';
import type { RepetitionSearch } from '../use-repetition';
import type { StructureSearch } from '../use-structure';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { BasisMark } from '../../controls/marks';
import { benchSlice } from '../bench-slice';
import type { Drawing } from '../use-drawn';
import type { GlareSearch } from '../use-glare';
import { ColourSection } from './colour/ColourSection';
import { ReliefSection } from './ReliefSection';
import { RepeatSection } from './repeat/RepeatSection';
import { ResponseSection } from './ResponseSection';
import { RevisionSection } from './RevisionSection';
import { SampleSection } from './sample/SampleSection';
import { SizeSection } from './size/SizeSection';

const Scroll = styled.div`
  overflow: auto;
  scrollbar-gutter: stable;
`;
const Entry = styled(Disclosure)`
  border-bottom: 1px solid ${({ theme }) => theme.line};
  h2 {
    font-weight: inherit;
  }
`;
const Head = styled(Button)`
  display: grid;
  grid-template-columns: 78px 14px minmax(0, 1fr);
  gap: 6px;
  align-items: center;
  width: 100%;
  min-height: 36px;
  padding: 4px 12px;
  text-align: left;
  background: none;
  border: 0;
  border-left: 3px solid transparent;
  cursor: pointer;
  &[data-hovered] {
    background: ${({ theme }) => theme.page};
  }
  &[aria-expanded='true'] {
    border-left-color: ${({ theme }) => theme.mark};
  }
  &[aria-expanded='true'] .name {
    font-weight: 650;
  }
  &[data-focus-visible] {
    outline-offset: -2px;
  }
  .figures {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .quiet {
    color: ${({ theme }) => theme.quiet};
  }
`;
const Panel = styled.div`
  padding: 4px 12px 16px 15px;
  display: grid;
  gap: 12px;
`;

interface Line {
  section: Section;
  name: string;
  basis?: Basis;
  figures: React.ReactNode;
  panel: React.ReactNode;
}

/** What there is, or null while it cannot be: the size of a sample stands while its repeat is refused. */
function orNull<T>(work: () => T): T | null {
  try {
    return work();
  } catch {
    return null;
  }
}

/** The sample in a few words: its file, and what was done to it. */
function sampleWords({ sample: s, source }: Recipe, sample: Sample): string {
  const done = [
    s.frame || s.bowLines.length > 0 ? 'straightened' : '',
    s.areas.length > 0 ? `${s.areas.length} picked` : '',
    source.maps.length > 0 ? `${source.maps.length + 1} maps` : '',
  ].filter(Boolean);
  return [...done, sample.fileName].join(', ');
}

/** The data sheet of the finish, which is also its controls. */
export function Ledger({
  finish,
  recipe,
  samples,
  drawing,
  search,
  glare,
  repetition,
}: {
  finish: Finish;
  recipe: Recipe;
  samples: readonly Sample[];
  drawing: Drawing;
  search: StructureSearch;
  glare: GlareSearch;
  repetition: RepetitionSearch;
}) {
  const open = useAppSelector((s) => s.bench.section);
  const units = useAppSelector((s) => s.settings.units);
  const dispatch = useAppDispatch();
  const sample = finish.samples.find((s) => s.id === recipe.source.sampleIds[0]);
  const report = drawing.drawn?.report ?? null;
  const repeat = useMemo(() => sample && orNull(() => resolveRepeat(recipe, sample)), [recipe, sample]);
  const geometry: SampleGeometry | null = useMemo(
    () => repeat ?? (sample ? orNull(() => resolveSample(recipe, sample)) : null),
    [repeat, recipe, sample],
  );

  const sizeMm = geometry && { width: geometry.size.width.mm, height: geometry.size.height.mm };
  const lines: Line[] = [
    {
      section: 'sample',
      name: 'Sample',
      figures: sample ? sampleWords(recipe, sample) : 'none yet',
      panel: <SampleSection finish={finish} recipe={recipe} sample={sample} geometry={geometry} />,
    },
    {
      section: 'size',
      name: 'Size',
      ...(geometry ? { basis: weakestBasis(geometry.size.width.basis, geometry.size.height.basis) } : {}),
      figures: geometry
        ? printArea({ width: geometry.size.width.mm, height: geometry.size.height.mm }, units)
        : '',
      panel: sample ? (
        <SizeSection
          recipe={recipe}
          sample={sample}
          category={finish.category}
          geometry={geometry}
          search={search}
        />
      ) : null,
    },
    {
      section: 'colour',
      name: 'Colour',
      basis: basisOfColour(recipe.colour),
      figures: report
        ? `LRV ${printNumber(report.lrv, 1)}${recipe.colour.ways.length > 0 ? `, ${recipe.colour.ways.length} colourways` : ''}`
        : recipe.colour.lrv
          ? `LRV ${printNumber(recipe.colour.lrv.value, 1)}`
          : '',
      panel: (
        <ColourSection
          finish={finish}
          recipe={recipe}
          drawing={drawing}
          sample={sample}
          sizeMm={sizeMm}
          glare={glare}
        />
      ),
    },
    {
      section: 'repeat',
      name: 'Repeat',
      figures: repeat ? printArea(repeat.map.repeatMm, units) : '',
      panel: (
        <RepeatSection
          recipe={recipe}
          samples={samples}
          geometry={repeat ?? null}
          drawn={drawing.drawn}
          search={search}
          repetition={repetition}
        />
      ),
    },
    {
      section: 'relief',
      name: 'Relief',
      basis: recipe.relief.depthMm.basis,
      figures: `${printLength(recipe.relief.depthMm.value, units, 2)} deep`,
      panel: <ReliefSection recipe={recipe} report={report} />,
    },
    {
      section: 'response',
      name: 'Response',
      basis: recipe.response.glossGu.basis,
      figures: `${printNumber(recipe.response.glossGu.value, 1)} GU${recipe.response.metal ? ', metal' : ''}`,
      panel: <ResponseSection recipe={recipe} report={report} sample={sample} sizeMm={sizeMm} />,
    },
    {
      section: 'revision',
      name: 'Revision',
      figures:
        finish.revisions.length === 0 ? (
          'none issued'
        ) : (
          <>
            {finish.revisions.at(-1)!.letter}{' '}
            <span className="quiet">
              {finish.revisions.at(-1)!.sameAsDraft ? 'as drawn' : 'draft differs'}
            </span>
          </>
        ),
      panel: <RevisionSection finish={finish} />,
    },
  ];

  return (
    <Scroll aria-label="Ledger" role="region">
      {lines.map(({ section, name, basis, figures, panel }) => (
        <Entry
          key={section}
          isExpanded={open === section}
          onExpandedChange={(expanded) =>
            dispatch(benchSlice.actions.changed({ section: expanded ? section : null }))
          }
        >
          <Heading level={2}>
            <Head slot="trigger">
              <span className="name">{name}</span>
              <span style={{ display: 'grid' }}>{basis && <BasisMark basis={basis} />}</span>
              <span className="figures">{figures}</span>
            </Head>
          </Heading>
          <DisclosurePanel>{open === section && <Panel>{panel}</Panel>}</DisclosurePanel>
        </Entry>
      ))}
    </Scroll>
  );
}
