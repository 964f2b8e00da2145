import styled from 'styled-components';
import { reliefRangeMm } from '@jossel/core/relief';
import { CATEGORIES, type Recipe, type RenderReport } from '@jossel/core/finish';
import { printArea, printLength, printNumber } from '@jossel/core/units';
import type { Finish } from '../../app/api';
import { useAppSelector } from '../../app/store';
import { StateMark } from '../../controls/marks';

const Block = styled.section`
  border-top: 1px solid ${({ theme }) => theme.ink};
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  font-size: 12px;
  > div {
    padding: 4px 10px 6px;
    border-right: 1px solid ${({ theme }) => theme.line};
    border-top: 1px solid ${({ theme }) => theme.line};
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  > div.wide {
    grid-column: 1 / -1;
    border-top: 0;
    padding-top: 7px;
  }
  small {
    display: block;
    color: ${({ theme }) => theme.quiet};
    font-size: 11px;
    line-height: 1.3;
  }
  h1 {
    font-size: 15px;
    text-overflow: ellipsis;
    overflow: hidden;
  }
`;

/** Reflectance as supplied; where layers lie on it, that over everything behind it. */
function reflectanceWords({ lrv, weathering }: RenderReport): string {
  const last = weathering?.layers.at(-1);
  return last ? `${printNumber(lrv, 1)}, ${printNumber(last.lrv, 1)}` : `LRV ${printNumber(lrv, 1)}`;
}

/** The title block of the sheet: what this is and its headline figures. */
export function TitleBlock({
  finish,
  recipe,
  report,
}: {
  finish: Finish;
  recipe: Recipe;
  report: RenderReport | null;
}) {
  const units = useAppSelector((s) => s.settings.units);
  const last = finish.revisions.at(-1);
  const origin = finish.samples[0]?.origin;
  return (
    <Block aria-label="Title block">
      <div className="wide">
        <h1>{finish.name}</h1>
        <small>
          {[CATEGORIES[finish.category].name, origin?.supplier, origin?.code].filter(Boolean).join(' · ')}
        </small>
      </div>
      <div>
        <small>{report?.weathering?.wallMm ? 'Repeat, one high' : 'Repeat'}</small>
        {report ? printArea(report.repeatMm, units) : '…'}
      </div>
      <div>
        <small>
          {report?.glass ? 'Transmittance' : report?.weathering ? 'LRV, weathered' : 'Reflectance'}
        </small>
        {!report
          ? '…'
          : report.glass
            ? `${printNumber(100 * report.glass.transmitted, 1)} %`
            : reflectanceWords(report)}
      </div>
      <div>
        <small>Gloss</small>
        {printNumber(recipe.response.glossGu.value, 1)} GU
      </div>
      <div>
        <small>Relief</small>
        {report ? printLength(reliefRangeMm(report), units, 2) : '…'}
      </div>
      <div>
        <small>Revision</small>
        {last ? `${last.letter}${last.sameAsDraft ? '' : ', draft differs'}` : 'not issued'}
      </div>
      <div>
        <small>State</small>
        <StateMark state={finish.state} />
      </div>
    </Block>
  );
}
