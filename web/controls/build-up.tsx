import {
  Button as GripButton,
  GridList,
  GridListItem,
  useDragAndDrop,
  type Selection,
} from 'react-aria-components';
import { GripVertical } from 'lucide-react';
import styled from 'styled-components';

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
  .figure {
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
/** What of the wall section a row is: hatched, as thick as it counts. */
export const Thickness = styled.i<{ $px: number }>`
  align-self: end;
  width: 22px;
  height: ${({ $px }) => $px}px;
  border-top: 1px solid ${({ theme }) => theme.ink};
  background: repeating-linear-gradient(135deg, ${({ theme }) => theme.strong} 0 1px, transparent 1px 5px);
`;

const MOST_THICK_PX = 26;

/**
 * Things that lie one over another, drawn like the layers of a wall section: the first at the bottom. Rows are dragged into another
 * order, by the grip or with the keyboard.
 */
export function BuildUpRows<T extends { id: string; name: string }>({
  label,
  items,
  open,
  onOpen,
  onOrder,
  thick,
  mark,
  state,
  figure,
  counts,
  dependencies,
}: {
  label: string;
  /** From the bottom up. */
  items: readonly T[];
  /** Id of the one that is open. */
  open: string | null;
  onOpen: (id: string) => void;
  onOrder: (next: T[]) => void;
  /** How thick it is drawn, 0–1. */
  thick: (item: T) => number;
  /** Before its name. */
  mark?: (item: T) => React.ReactNode;
  /** After its name. */
  state: (item: T) => string;
  figure: (item: T) => React.ReactNode;
  counts: (item: T) => boolean;
  dependencies: readonly unknown[];
}) {
  const fromTop = [...items].reverse();
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].map((key) => ({ 'text/plain': String(key) })),
    onReorder: ({ keys, target }) => {
      const taken = fromTop.filter((c) => keys.has(c.id));
      const rest = fromTop.filter((c) => !keys.has(c.id));
      const at = rest.findIndex((c) => c.id === target.key) + (target.dropPosition === 'after' ? 1 : 0);
      onOrder([...rest.slice(0, at), ...taken, ...rest.slice(at)].reverse());
      // An arrow key pressed before dragging has begun selects another row: the one that was moved stays open.
      if (taken[0]) onOpen(taken[0].id);
    },
  });
  return (
    <List
      aria-label={label}
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
      dependencies={dependencies}
    >
      {(each) => {
        const item = each as T;
        return (
          <GridListItem id={item.id} textValue={item.name} data-off={counts(item) ? undefined : ''}>
            <Thickness aria-hidden="true" $px={Math.max(2, Math.round(MOST_THICK_PX * thick(item)))} />
            <span>{mark?.(item)}</span>
            <span className="name">
              {item.name}
              {state(item)}
            </span>
            <span className="figure">{figure(item)}</span>
            <GripButton slot="drag" aria-label={`Move ${item.name} to another place`}>
              <GripVertical size={14} aria-hidden="true" />
            </GripButton>
          </GridListItem>
        );
      }}
    </List>
  );
}
