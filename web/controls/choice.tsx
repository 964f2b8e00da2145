import { Button, Label, ListBox, ListBoxItem, Popover, Select, SelectValue } from 'react-aria-components';
import styled from 'styled-components';
import { steady } from './steady';

const Box = styled(Select)<{ $inline?: boolean | undefined; $markOnly?: boolean | undefined }>`
  display: ${({ $inline }) => ($inline ? 'inline-flex' : 'grid')};
  gap: 3px;
  align-items: center;
  min-width: 0;
  .react-aria-Label {
    color: ${({ theme }) => theme.quiet};
    font-size: 12px;
  }
  ${({ $markOnly }) =>
    $markOnly
      ? `.react-aria-SelectValue { width: 13px; white-space: nowrap; overflow: hidden; text-indent: 0; }
         .react-aria-SelectValue svg { margin-right: 20px; }`
      : ''}
`;
const Trigger = styled(Button)`
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 6px;
  min-height: 26px;
  padding: 0 6px 0 8px;
  text-align: left;
  min-width: 0;
  border: 1px solid ${({ theme }) => theme.line};
  background: ${({ theme }) => theme.field};
  border-radius: ${({ theme }) => theme.radius};
  cursor: pointer;
  &::after {
    content: '';
    border: 4px solid transparent;
    border-top-color: ${({ theme }) => theme.quiet};
    transform: translateY(2px);
    flex: none;
  }
  .react-aria-SelectValue {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  svg {
    margin-right: 6px;
    vertical-align: -1.5px;
  }
`;
const Sheet = styled(Popover)`
  background: ${({ theme }) => theme.field};
  border: 1px solid ${({ theme }) => theme.ink};
  min-width: var(--trigger-width);
  max-width: 420px;
  outline: none;
  .react-aria-ListBox {
    max-height: 320px;
    overflow: auto;
    outline: none;
    padding: 3px;
  }
`;
const Item = styled(ListBoxItem)`
  padding: 3px 8px;
  cursor: pointer;
  outline: none;
  display: flex;
  gap: 8px;
  align-items: center;
  &[data-focused] {
    background: ${({ theme }) => theme.page};
  }
  &[data-selected] {
    font-weight: 600;
  }
  &[data-focus-visible] {
    outline: 2px solid ${({ theme }) => theme.mark};
    outline-offset: -2px;
  }
`;

function PlainChoice<T extends string>({
  label,
  value,
  options,
  onChange,
  hideLabel,
  inline,
  markOnly,
  placeholder,
}: {
  label: string;
  value: T | null;
  options: readonly { value: T; name: string; mark?: React.ReactNode }[];
  onChange: (value: T) => void;
  hideLabel?: boolean;
  inline?: boolean;
  /** Shows the mark of what is chosen; its name is said and stands in the list. */
  markOnly?: boolean;
  placeholder?: string;
}) {
  return (
    <Box
      $inline={inline}
      $markOnly={markOnly}
      {...(hideLabel ? { 'aria-label': label } : {})}
      selectedKey={value}
      onSelectionChange={(key) => key !== null && onChange(String(key) as T)}
      placeholder={placeholder ?? 'choose'}
    >
      {!hideLabel && <Label>{label}</Label>}
      <Trigger>
        <SelectValue />
      </Trigger>
      <Sheet>
        <ListBox>
          {options.map((o) => (
            <Item key={o.value} id={o.value} textValue={o.name}>
              {o.mark}
              {o.name}
            </Item>
          ))}
        </ListBox>
      </Sheet>
    </Box>
  );
}

/** One of several from a list that drops down. */
export const Choice = steady(PlainChoice) as typeof PlainChoice;
