import {
  Button as GripButton,
  GridList,
  GridListItem,
  useDragAndDrop,
  type Selection,
} from 'react-aria-components';
import { GripVertical } from 'lucide-react';
import styled from 'styled-components';
import type { LayoutSettings } from '@jossel/core/layout';
import type { ReliefContribution } from '@jossel/core/relief';
import { printNumber } from '@jossel/core/units';
import { BasisMark } from '../../../controls/marks';

const List = styled(GridList)`
  border: 1px solid ${({ theme }) => theme.line};
  background: ${({ theme }) => theme.field};
  outline: none;
  .react-aria-GridListItem {
    display: grid;
    grid-template-columns: 22px 16px minmax(0, 1fr) auto 16px;
    gap: 6px;
    align-items: center;
    min-height: 28px;
    padding-right: 6px;
    cursor: pointer;
    outline: none;
    border-bottom: 1px solid ${({ theme }) => theme.line};
  }
  .react-aria-GridListItem:last-child {
    border-bottom: 0;
  }
  .react-aria-GridListItem[data-selected] {
    background: ${({ theme }) => theme.page};
    font-weight: 600;
  }
  .react-aria-GridListItem[data-focus-visible] {
    box-shadow: inset 0 0 0 2px ${({ theme }) => theme.mark};
  }
  .react-aria-GridListItem[data-off] {
    color: ${({ theme }) => theme.quiet};
    text-decoration: line-through;
  }
  .react-aria-DropIndicator[data-drop-target] {
    outline: 1px solid ${({ theme }) => theme.mark};
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .mm {
    font-variant-numeric: tabular-nums;
  }
  [slot='drag'] {
    all: unset;
    cursor: grab;
    color: ${({ theme }) => theme.quiet};
    display: grid;
  }
  [slot='drag'][data-focus-visible] {
    outline: 2px solid ${({ theme }) => theme.mark};
  }
`;
/** What of the wall section a row is: hatched, as thick as it is deep. */
const Thickness = styled.i<{ $px: number }>`
  align-self: end;
  width: 22px;
  height: ${({ $px }) => $px}px;
  border-top: 1px solid ${({ theme }) => theme.ink};
  background: repeating-linear-gradient(135deg, ${({ theme }) => theme.strong} 0 1px, transparent 1px 5px);
`;
const Laid = styled.div`
  display: grid;
  grid-template-columns: 22px 16px minmax(0, 1fr) auto;
  gap: 6px;
  align-items: center;
  min-height: 28px;
  padding-right: 28px;
  border: 1px solid ${({ theme }) => theme.line};
  border-bottom: 0;
  color: ${({ theme }) => theme.quiet};
  .mm {
    font-variant-numeric: tabular-nums;
  }
`;

const MOST_THICK_PX = 26;
const COMBINED = { add: '+', replace: '=', highest: '≥', lowest: '≤' } as const;

/**
 * What a relief is built up of, drawn like the layers of a wall section: the first at the bottom, every one over what is below it.
 * Rows are dragged into another order, by the grip or with the keyboard.
 */
export function BuildUp({
  contributions,
  layout,
  open,
  alone,
  onOpen,
  onOrder,
}: {
  contributions: readonly ReliefContribution[];
  layout: LayoutSettings | null;
  open: string | null;
  /** Shown alone; null: all are shown. */
  alone: string | null;
  onOpen: (id: string) => void;
  onOrder: (next: ReliefContribution[]) => void;
}) {
  const fromTop = [...contributions].reverse();
  const deepest = Math.max(1e-6, ...contributions.map((c) => c.depthMm.value));
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].map((key) => ({ 'text/plain': String(key) })),
    onReorder: ({ keys, target }) => {
      const taken = fromTop.filter((c) => keys.has(c.id));
      const rest = fromTop.filter((c) => !keys.has(c.id));
      const at = rest.findIndex((c) => c.id === target.key) + (target.dropPosition === 'after' ? 1 : 0);
      onOrder([...rest.slice(0, at), ...taken, ...rest.slice(at)].reverse());
    },
  });
  if (contributions.length === 0 && !layout) return <span>Flat: nothing adds relief.</span>;
  return (
    <div>
      {layout && (
        <Laid>
          <Thickness $px={4} aria-hidden="true" />
          <span />
          <span>Layout: joints and arrises</span>
          <span className="mm">{printNumber(layout.joint.depthMm.value, 2)} mm</span>
        </Laid>
      )}
      <List
        aria-label="Build-up of the relief, from the top down"
        items={fromTop}
        selectionMode="single"
        selectionBehavior="replace"
        disallowEmptySelection
        selectedKeys={open ? [open] : []}
        onSelectionChange={(keys: Selection) => {
          const [key] = keys === 'all' ? [] : [...keys];
          if (key !== undefined) onOpen(String(key));
        }}
        dragAndDropHooks={dragAndDropHooks}
        dependencies={[contributions, alone]}
      >
        {(item) => {
          const c = item as ReliefContribution;
          const counts = alone === null ? !c.off : alone === c.id;
          return (
            <GridListItem id={c.id} textValue={c.name} data-off={counts ? undefined : ''}>
              <Thickness
                aria-hidden="true"
                $px={Math.max(2, Math.round((MOST_THICK_PX * c.depthMm.value) / deepest))}
              />
              <span aria-label={`combined by ${c.combine ?? 'add'}`}>{COMBINED[c.combine ?? 'add']}</span>
              <span className="name">
                {c.name}
                {alone === c.id ? ' (shown alone)' : c.off ? ' (off)' : c.mask ? ' (masked)' : ''}
              </span>
              <span className="mm">
                <BasisMark basis={c.depthMm.basis} /> {printNumber(c.depthMm.value, 2)} mm
              </span>
              <GripButton slot="drag" aria-label={`Move ${c.name} to another place`}>
                <GripVertical size={14} aria-hidden="true" />
              </GripButton>
            </GridListItem>
          );
        }}
      </List>
    </div>
  );
}
