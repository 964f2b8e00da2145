import styled from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import type { AxisSize, ResolvedSize } from '@jossel/core/size';
import { figure, printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import { OneOf, Quiet } from '../../controls/basics';
import { FigureField, NumberField } from '../../controls/fields';
import { BasisMark } from '../../controls/marks';
import { useChange } from './use-change';

const Axis = styled.section`
  display: grid;
  gap: 8px;
  h3 {
    font-size: 13px;
    font-weight: 600;
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: 8px;
  }
  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
  }
  .result {
    display: flex;
    gap: 6px;
    align-items: center;
  }
`;

const WAYS = [
  { value: 'overall', name: 'overall' },
  { value: 'count', name: 'counted' },
  { value: 'follows', name: 'follows' },
] as const;

/** The true size of the sample, per axis: known overall, counted in modules, or following the other axis. */
export function SizeSection({ recipe, size }: { recipe: Recipe; size: ResolvedSize | null }) {
  const change = useChange(recipe, 'size');
  const units = useAppSelector((s) => s.settings.units);

  function axis(key: 'across' | 'up', name: string, other: 'across' | 'up') {
    const value = recipe.size[key];
    const resolved = size ? (key === 'across' ? size.width : size.height) : null;
    const set = (what: string, next: AxisSize) => change(`${key} ${what}`, { [key]: next });
    const choose = (by: AxisSize['by']) => {
      const mm = Math.round((resolved?.mm ?? 1000) * 100) / 100;
      if (by === 'overall') set('way', { by, overallMm: figure(mm, 'mm', 'measured') });
      else if (by === 'count')
        set('way', { by, modules: 1, moduleMm: figure(mm, 'mm', 'measured'), jointMm: 0, ends: 'flush' });
      // One axis at least has a length of its own.
      else if (recipe.size[other].by === 'follows')
        change(`${key} way`, {
          [key]: { by },
          [other]: {
            by: 'overall',
            overallMm: figure(
              Math.round(((key === 'across' ? size?.height.mm : size?.width.mm) ?? 1000) * 100) / 100,
              'mm',
              'assumed',
            ),
          },
        });
      else set('way', { by });
    };
    return (
      <Axis aria-label={name}>
        <h3>
          {name}
          <OneOf
            label={`How the ${name.toLowerCase()} is known`}
            value={value.by}
            options={WAYS}
            onChange={choose}
          />
        </h3>
        {value.by === 'overall' && (
          <FigureField
            label={`Overall ${name.toLowerCase()}`}
            figure={value.overallMm}
            unit="mm"
            min={0.001}
            max={1e6}
            onChange={(overallMm) => set('overall', { ...value, overallMm })}
          />
        )}
        {value.by === 'count' && (
          <>
            <div className="pair">
              <NumberField
                label="Count"
                value={value.modules}
                unit="×"
                min={1}
                max={100000}
                whole
                onChange={(modules) => set('count', { ...value, modules })}
              />
              <NumberField
                label="Joint"
                value={value.jointMm}
                unit="mm"
                min={0}
                max={1000}
                onChange={(jointMm) => set('joint', { ...value, jointMm })}
              />
            </div>
            <FigureField
              label="Module"
              figure={value.moduleMm}
              unit="mm"
              min={0.001}
              max={1e6}
              onChange={(moduleMm) => set('module', { ...value, moduleMm })}
            />
            <OneOf
              label={`Where the count of the ${name.toLowerCase()} begins and ends`}
              value={value.ends}
              options={[
                { value: 'flush', name: 'edge to edge' },
                { value: 'joint', name: 'joint to joint' },
              ]}
              onChange={(ends) => set('ends', { ...value, ends })}
            />
          </>
        )}
        {resolved && (
          <div className="result">
            <BasisMark basis={resolved.basis} />
            <span>
              <strong>{printLength(resolved.mm, units, 1)}</strong>{' '}
              <Quiet>
                ± {printLength(resolved.toleranceMm, units, 1)}, {resolved.from}
              </Quiet>
            </span>
          </div>
        )}
      </Axis>
    );
  }

  return (
    <>
      {axis('across', 'Width', 'up')}
      {axis('up', 'Height', 'across')}
      {size && (
        <Quiet>
          {printNumber(size.pxPerMm.x, 3)} × {printNumber(size.pxPerMm.y, 3)} px per mm
          {Math.abs(size.axesDiffer) > 0.0005 &&
            `; the axes differ by ${printNumber(Math.abs(size.axesDiffer) * 100, 1)} %`}
        </Quiet>
      )}
    </>
  );
}
