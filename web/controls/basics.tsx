import {
  Button as AriaButton,
  ToggleButton,
  ToggleButtonGroup,
  Tooltip,
  TooltipTrigger,
  type ButtonProps,
  type Key,
} from 'react-aria-components';
import styled from 'styled-components';
import { steady } from './steady';

/** Buttons, rows and words that all places share. */

type Weight = 'main' | 'plain' | 'quiet' | 'icon';
const bare = (weight: Weight) => weight === 'quiet' || weight === 'icon';

const Plain = styled(AriaButton)<{ $weight: Weight }>`
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: 6px;
  min-height: 26px;
  padding: 0 ${({ $weight }) => ($weight === 'icon' ? 5 : 10)}px;
  border-radius: ${({ theme }) => theme.radius};
  border: 1px solid
    ${({ theme, $weight }) => ($weight === 'main' ? theme.mark : bare($weight) ? 'transparent' : theme.strong)};
  background: ${({ theme, $weight }) => ($weight === 'main' ? theme.mark : bare($weight) ? 'transparent' : theme.field)};
  color: ${({ theme, $weight }) => ($weight === 'main' ? theme.onMark : theme.ink)};
  cursor: pointer;
  white-space: nowrap;
  text-decoration: none;
  &[data-hovered] {
    border-color: ${({ theme }) => theme.ink};
  }
  &[data-disabled] {
    opacity: 0.45;
    cursor: default;
  }
  svg {
    width: 15px;
    height: 15px;
  }
`;

const Words = styled(Tooltip)`
  background: ${({ theme }) => theme.ink};
  color: ${({ theme }) => theme.field};
  font-size: 12px;
  padding: 2px 8px 3px;
  max-width: 260px;
  outline: none;
`;

/** Words beside a control while the pointer rests on it or the keyboard is there. */
const WithTip = ({ tip, children }: { tip: string | undefined; children: React.ReactNode }) =>
  tip ? (
    <TooltipTrigger delay={500} closeDelay={80}>
      {children}
      <Words offset={4}>{tip}</Words>
    </TooltipTrigger>
  ) : (
    children
  );

type ToPress = ButtonProps & { weight?: Weight; tip?: string; ref?: React.Ref<HTMLButtonElement> };
const PlainButton = ({ weight = 'plain', tip, ...props }: ToPress) => (
  <WithTip tip={tip}>
    <Plain $weight={weight} {...props} />
  </WithTip>
);

/** A button; `tip` says what it does, with the key that does the same. */
export const Button = steady(PlainButton);

const Group = styled(ToggleButtonGroup)<{ $compact?: boolean | undefined }>`
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px;
  button {
    ${({ $compact }) => ($compact ? 'padding: 0 3px; font-size: 12px;' : '')}
  }
`;
const Item = styled(ToggleButton)`
  min-height: 24px;
  padding: 0 5px;
  border: 1px solid transparent;
  border-radius: ${({ theme }) => theme.radius};
  background: none;
  cursor: pointer;
  white-space: nowrap;
  color: ${({ theme }) => theme.quiet};
  font-weight: 400;
  &[data-hovered] {
    color: ${({ theme }) => theme.ink};
    border-color: ${({ theme }) => theme.line};
  }
  &[data-selected] {
    color: ${({ theme }) => theme.ink};
    border-color: ${({ theme }) => theme.ink};
    background: ${({ theme }) => theme.field};
    font-weight: 600;
  }
`;

function PlainOneOf<T extends string | number>({
  label,
  value,
  options,
  compact,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly { value: T; name: string }[];
  /** Set tightly, where all have to stand in one line. */
  compact?: boolean;
  onChange: (value: T) => void;
}) {
  return (
    <Group
      $compact={compact}
      aria-label={label}
      selectionMode="single"
      disallowEmptySelection
      selectedKeys={[String(value)]}
      onSelectionChange={(keys: Set<Key>) => {
        const chosen = options.find((o) => keys.has(String(o.value)));
        if (chosen) onChange(chosen.value);
      }}
    >
      {options.map((o) => (
        <Item key={String(o.value)} id={String(o.value)}>
          {o.name}
        </Item>
      ))}
    </Group>
  );
}

/** One of a few, side by side. */
export const OneOf = steady(PlainOneOf) as typeof PlainOneOf;

function PlainOnOff({
  name,
  value,
  tip,
  onChange,
}: {
  name: string;
  value: boolean;
  tip?: string;
  onChange: (value: boolean) => void;
}) {
  return (
    <WithTip tip={tip}>
      <Item isSelected={value} onChange={onChange}>
        {name}
      </Item>
    </WithTip>
  );
}

/** Something that is on or off. */
export const OnOff = steady(PlainOnOff);

export const Row = styled.div<{ $gap?: number }>`
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: ${({ $gap = 8 }) => $gap}px;
`;
export const Quiet = styled.span`
  color: ${({ theme }) => theme.quiet};
`;
export const Unit = styled.span`
  color: ${({ theme }) => theme.quiet};
  font-size: 12px;
`;
/** Said to screen readers only. */
export const VisuallyHidden = styled.span`
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
  white-space: nowrap;
`;
export const Page = styled.main`
  height: 100%;
  overflow: auto;
  padding: 18px 24px 40px;
`;
export const PageHead = styled.header`
  display: flex;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 8px 18px;
  margin-bottom: 16px;
`;
export const Sentence = styled.p.attrs({ role: 'alert' })`
  border-left: 3px solid ${({ theme }) => theme.mark};
  padding: 4px 0 4px 10px;
  max-width: 72ch;
`;
export const Empty = styled.div`
  border: 1px dashed ${({ theme }) => theme.strong};
  padding: 28px;
  max-width: 560px;
  display: grid;
  gap: 10px;
  justify-items: start;
`;

const Track = styled.div`
  height: 6px;
  background: ${({ theme }) => theme.line};
  min-width: 120px;
`;
/** How far something is, 0–1. */
export function Progress({ label, value }: { label: string; value: number }) {
  return (
    <Track
      role="progressbar"
      aria-label={label}
      aria-valuenow={Math.round(value * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
    >
      <div style={{ width: `${value * 100}%`, height: '100%', background: 'currentColor' }} />
    </Track>
  );
}

/** Below a long list: how much of it is shown, and a button for the next part. Nothing where all is shown. */
export function MoreOfList(props: {
  shown: number;
  total: number;
  /** What the list is of, in the plural. */
  what: string;
  hasMore: boolean;
  isFetching: boolean;
  onMore: () => void;
}) {
  if (!props.hasMore) return null;
  return (
    <Row style={{ marginTop: 18 }}>
      <Button onPress={props.onMore} isDisabled={props.isFetching}>
        {props.isFetching ? 'Loading …' : `Show more ${props.what}`}
      </Button>
      <Quiet>
        {props.shown} of {props.total} shown
      </Quiet>
    </Row>
  );
}
