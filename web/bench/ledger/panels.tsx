import type { Section } from '@jossel/core/surface';
import { useFollowed } from '../open/drawings';
import { useFindings, useOpenChecks } from '../open/findings';
import { useInHand } from '../open/in-hand';
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

/** The controls of each section of the open finish. Each follows what it shows and nothing else. */
export const PANELS: Record<Section, React.FC> = {
  sample: SamplePanel,
  size: SizePanel,
  colour: ColourPanel,
  repeat: RepeatPanel,
  layout: LayoutPanel,
  weathering: WeatheringPanel,
  relief: ReliefPanel,
  response: ResponsePanel,
  revision: RevisionPanel,
};

function SamplePanel() {
  const { finish, recipe, samples, source, sample, geometry } = useInHand();
  if (recipe.generated) return <GeneratedSection recipe={recipe} generated={recipe.generated} />;
  return <SampleSection {...{ finish, recipe, samples, source, sample, geometry }} />;
}

function SizePanel() {
  const { finish, recipe, samples, source, sample, geometry } = useInHand();
  const { structure } = useFindings();
  if (recipe.generated) return <GeneratedSize recipe={recipe} generated={recipe.generated} />;
  if (!sample || !source) return null;
  return (
    <SizeSection
      {...{ recipe, samples, source, sample, geometry }}
      category={finish.category}
      search={structure}
    />
  );
}

/** Size of the picture in hand, mm. */
function useSizeMm() {
  const { geometry } = useInHand();
  return geometry && { width: geometry.size.width.mm, height: geometry.size.height.mm };
}

function ColourPanel() {
  const { finish, recipe, source, sample } = useInHand();
  const { glare } = useFindings();
  return (
    <ColourSection
      {...{ finish, recipe, source, sample, glare }}
      drawing={useFollowed()}
      sizeMm={useSizeMm()}
    />
  );
}

function RepeatPanel() {
  const { recipe, samples, leading } = useInHand();
  const { structure, repetition, pieces } = useFindings();
  const { drawn } = useFollowed();
  if (recipe.generated) return <GeneratedRepeat {...{ recipe, drawn, repetition }} />;
  return (
    <RepeatSection
      {...{ recipe, samples, drawn, repetition, pieces }}
      plan={leading.plan}
      size={leading.geometry?.size ?? null}
      search={structure}
    />
  );
}

function LayoutPanel() {
  const { finish, recipe, samples, leading } = useInHand();
  const report = useFollowed().drawn?.report.layout ?? null;
  return <LayoutSection finishId={finish.id} {...{ recipe, samples, report }} geometry={leading.geometry} />;
}

function WeatheringPanel() {
  const { finish, recipe } = useInHand();
  const report = useFollowed().drawn?.report.weathering ?? null;
  return <WeatheringSection finishId={finish.id} recipe={recipe} report={report} />;
}

function ReliefPanel() {
  const { recipe, leading } = useInHand();
  const { pieces } = useFindings();
  const { drawn } = useFollowed();
  return (
    <ReliefSection
      {...{ recipe, drawn, pieces }}
      sample={leading.sample ?? null}
      geometry={leading.geometry}
    />
  );
}

function ResponsePanel() {
  const { finish, recipe, sample } = useInHand();
  const report = useFollowed().drawn?.report ?? null;
  return <ResponseSection finishId={finish.id} {...{ recipe, report, sample }} sizeMm={useSizeMm()} />;
}

function RevisionPanel() {
  const { finish, recipe } = useInHand();
  return <RevisionSection finish={finish} recipe={recipe} checks={useOpenChecks()} />;
}
