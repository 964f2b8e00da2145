import styled from 'styled-components';
import { Disclosure, DisclosurePanel, Button, Heading } from 'react-aria-components';
import {
  basisOfFinish,
  leadingPicture,
  leadGeometry,
  repeatGeometry,
  type FinishPieces,
  type Recipe,
} from '@jossel/core/finish';
import { basesIn, familyOf } from '@jossel/core/generate';
import { bondOf } from '@jossel/core/layout';
import { depthOf, reliefRangeMm } from '@jossel/core/relief';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import type { Section } from '@jossel/core/surface';
import { useMemo } from 'react';
import { printArea, printLength, printNumber, weakestBasis, type Basis } from '@jossel/core/units';
import type { Finish, Sample } from '../../app/api';
import type { RepetitionSearch } from '../use-repetition';
import type { StructureSearch } from '../use-structure';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { BasisMark } from '../../controls/marks';
import { steady } from '../../controls/steady';
import { benchSlice } from '../bench-slice';
import { withKey } from '../keys/bench-keys';
import { geometryOf, usePictureInHand } from '../picture-in-hand';
import type { OpenChecks } from '../checks/use-checks';
import type { Drawing } from '../use-drawn';
import type { GlareSearch } from '../use-glare';
import { ColourSection } from './colour/ColourSection';
import { GeneratedRepeat } from './generated/GeneratedRepeat';
import { GeneratedSection, GeneratedSize } from './generated/GeneratedSection';
import { LayoutSection } from './layout/LayoutSection';
import { ReliefSection } from './relief/ReliefSection';
import { RepeatSection } from './repeat/RepeatSection';
import { ResponseSection } from './response/ResponseSection';
import { RevisionSection } from './RevisionSection';
import { SampleSection } from './sample/SampleSection';
import { SizeSection } from './size/SizeSection';
import { WeatheringSection } from './weathering/WeatheringSection';

const Scroll = styled.div`
  overflow: auto;
  scrollbar-gutter: stable;
  /* The line that explains a setting does not cover the one in hand. */
  scroll-padding-bottom: 56px;
`;
const Fold = styled(Disclosure)`
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

/** One line of the data sheet: its head, and below it its controls while it is open. */
const Entry = steady(function PlainEntry({
  name,
  shortcut,
  basis,
  figures,
  isOpen,
  onOpen,
  children,
}: {
  name: string;
  /** Key that opens it. */
  shortcut: string;
  basis: Basis | undefined;
  figures: React.ReactNode;
  isOpen: boolean;
  onOpen: (isOpen: boolean) => void;
  /** Null while it is closed. */
  children: React.ReactNode;
}) {
  return (
    <Fold isExpanded={isOpen} onExpandedChange={onOpen}>
      <Heading level={2}>
        <Head slot="trigger">
          <span className="name" title={withKey(name, shortcut)}>
            {name}
          </span>
          <span style={{ display: 'grid' }}>{basis && <BasisMark basis={basis} />}</span>
          <span className="figures">{figures}</span>
        </Head>
      </Heading>
      <DisclosurePanel>{children && <Panel>{children}</Panel>}</DisclosurePanel>
    </Fold>
  );
});

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

/** The samples in a few words: the file of the leading one, and what was done to it. */
function sampleWords({ sources }: Recipe, { preparation, maps }: PictureSource, sample: Sample): string {
  const { frame, bowLines, areas } = preparation;
  const done = [
    sources.length > 1 ? `${sources.length} pictures` : '',
    frame || bowLines.length > 0 ? 'straightened' : '',
    areas.length > 0 ? `${areas.length} picked` : '',
    maps.length > 0 ? `${maps.length + 1} maps` : '',
  ].filter(Boolean);
  return [...done, sample.fileName].join(', ');
}

/** The layout in a few words: its bond, and the size of its pieces. */
function layoutWords({ layout }: Recipe, units: 'metric' | 'imperial'): string {
  if (!layout) return 'none';
  const { lengthMm, widthMm } = layout.piece;
  const { name, sized } = bondOf(layout.bond.kind);
  const size =
    sized === 'both'
      ? printArea({ width: lengthMm.value, height: widthMm.value }, units)
      : printLength(widthMm.value, units, 1);
  return `${name}, ${size}`;
}

/** The layers in a few words. */
function weatheringWords({ weathering }: Recipe): string {
  const used = weathering.filter((layer) => !layer.off);
  return used.length === 0 ? 'none' : used.map(({ name }) => name.toLowerCase()).join(', ');
}

/** What the depth of the relief rests on: the weakest of its contributions. */
const basisOfDepth = ({ relief, generated }: Recipe): Basis =>
  weakestBasis(
    ...relief.contributions.map((c) => c.depthMm.basis),
    ...(generated ? basesIn(familyOf(generated.kind).settings, generated) : []),
  );

/** The data sheet of the finish, which is also its controls. */
export function Ledger({
  finish,
  recipe,
  samples,
  drawing,
  search,
  glare,
  repetition,
  pieces,
  checks,
}: {
  finish: Finish;
  recipe: Recipe;
  samples: readonly Sample[];
  drawing: Drawing;
  search: StructureSearch;
  glare: GlareSearch;
  repetition: RepetitionSearch;
  pieces: FinishPieces | null;
  checks: OpenChecks;
}) {
  const open = useAppSelector((s) => s.bench.section);
  const units = useAppSelector((s) => s.settings.units);
  const dispatch = useAppDispatch();
  const { generated } = recipe;
  const lead = leadingPicture(recipe);
  const inHand = usePictureInHand(recipe);
  const leadSample = samples.find((s) => s.id === lead?.sampleId);
  const sample = samples.find((s) => s.id === inHand?.sampleId);
  const report = drawing.drawn?.report ?? null;
  const repeat = useMemo(
    () => leadSample && orNull(() => repeatGeometry(recipe, leadSample)),
    [recipe, leadSample],
  );
  const leading: SampleGeometry | null = useMemo(
    () => (leadSample ? orNull(() => leadGeometry(recipe, leadSample)) : null),
    [recipe, leadSample],
  );
  const geometry: SampleGeometry | null = useMemo(
    () => (inHand && sample ? orNull(() => geometryOf(recipe, inHand, samples)) : null),
    [recipe, inHand, sample, samples],
  );

  const sizeMm = geometry && { width: geometry.size.width.mm, height: geometry.size.height.mm };
  const lines: Line[] = [
    {
      section: 'sample',
      name: 'Sample',
      ...(generated ? { basis: weakestBasis(...basesIn(familyOf(generated.kind).settings, generated)) } : {}),
      figures: generated
        ? `generated, ${familyOf(generated.kind).name.toLowerCase()}`
        : lead && leadSample
          ? sampleWords(recipe, lead, leadSample)
          : 'none yet',
      panel: generated ? (
        <GeneratedSection recipe={recipe} generated={generated} />
      ) : (
        <SampleSection
          finish={finish}
          recipe={recipe}
          source={inHand}
          samples={samples}
          sample={sample}
          geometry={geometry}
        />
      ),
    },
    {
      section: 'size',
      name: 'Size',
      ...(leading ? { basis: weakestBasis(leading.size.width.basis, leading.size.height.basis) } : {}),
      figures: leading
        ? printArea({ width: leading.size.width.mm, height: leading.size.height.mm }, units)
        : generated
          ? printArea(generated.repeatMm, units)
          : '',
      panel: generated ? (
        <GeneratedSize recipe={recipe} generated={generated} />
      ) : sample && inHand ? (
        <SizeSection
          recipe={recipe}
          source={inHand}
          samples={samples}
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
      basis: basisOfFinish(recipe),
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
          source={inHand}
          sample={sample}
          sizeMm={sizeMm}
          glare={glare}
        />
      ),
    },
    {
      section: 'repeat',
      name: 'Repeat',
      figures: repeat ? printArea(repeat.repeatMm, units) : generated && report ? 'closes by itself' : '',
      panel: generated ? (
        <GeneratedRepeat recipe={recipe} drawn={drawing.drawn} repetition={repetition} />
      ) : (
        <RepeatSection
          recipe={recipe}
          samples={samples}
          plan={repeat ?? null}
          size={leading?.size ?? null}
          drawn={drawing.drawn}
          search={search}
          repetition={repetition}
          pieces={pieces}
        />
      ),
    },
    {
      section: 'layout',
      name: 'Layout',
      ...(recipe.layout
        ? { basis: weakestBasis(recipe.layout.piece.lengthMm.basis, recipe.layout.piece.widthMm.basis) }
        : {}),
      figures: layoutWords(recipe, units),
      panel: (
        <LayoutSection
          samples={samples}
          finishId={finish.id}
          recipe={recipe}
          geometry={leading}
          report={report?.layout ?? null}
        />
      ),
    },
    {
      section: 'weathering',
      name: 'Weathering',
      figures: weatheringWords(recipe),
      panel: <WeatheringSection finishId={finish.id} recipe={recipe} report={report?.weathering ?? null} />,
    },
    {
      section: 'relief',
      name: 'Relief',
      basis: basisOfDepth(recipe),
      figures: `${printLength(report ? reliefRangeMm(report) : depthOf(recipe.relief), units, 2)} deep`,
      panel: (
        <ReliefSection
          recipe={recipe}
          drawn={drawing.drawn}
          pieces={pieces}
          sample={leadSample ?? null}
          geometry={leading}
        />
      ),
    },
    {
      section: 'response',
      name: 'Response',
      basis: recipe.response.glossGu.basis,
      figures: `${printNumber(recipe.response.glossGu.value, 1)} GU${recipe.response.base.kind === 'dielectric' ? '' : `, ${recipe.response.base.kind}`}`,
      panel: (
        <ResponseSection
          finishId={finish.id}
          recipe={recipe}
          report={report}
          sample={sample}
          sizeMm={sizeMm}
        />
      ),
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
      panel: <RevisionSection finish={finish} recipe={recipe} checks={checks} />,
    },
  ];

  return (
    <Scroll aria-label="Ledger" role="region">
      {lines.map(({ section, name, basis, figures, panel }, k) => (
        <Entry
          key={section}
          name={name}
          shortcut={String(k + 1)}
          basis={basis}
          figures={figures}
          isOpen={open === section}
          onOpen={(isOpen) => dispatch(benchSlice.actions.changed({ section: isOpen ? section : null }))}
        >
          {open === section ? panel : null}
        </Entry>
      ))}
    </Scroll>
  );
}
