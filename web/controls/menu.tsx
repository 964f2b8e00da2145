import { Ellipsis } from 'lucide-react';
import { Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import styled from 'styled-components';
import { Button } from './basics';

const Sheet = styled(Popover)`
  background: ${({ theme }) => theme.field};
  border: 1px solid ${({ theme }) => theme.ink};
  outline: none;
  .react-aria-Menu {
    outline: none;
    padding: 3px;
    min-width: 150px;
  }
`;
const Entry = styled(MenuItem)`
  padding: 4px 10px;
  cursor: pointer;
  outline: none;
  &[data-focused] {
    background: ${({ theme }) => theme.page};
  }
  &[data-focus-visible] {
    outline: 2px solid ${({ theme }) => theme.mark};
    outline-offset: -2px;
  }
  &[data-disabled] {
    color: ${({ theme }) => theme.quiet};
    cursor: default;
  }
`;

/** What can be done with one thing of a list, behind a button that shows three dots or a text. */
export function Actions({
  label,
  text,
  actions,
}: {
  label: string;
  text?: string;
  actions: readonly { name: string; disabled?: boolean; run: () => void }[];
}) {
  return (
    <MenuTrigger>
      {text ? (
        <Button>{text}</Button>
      ) : (
        <Button weight="icon" aria-label={label}>
          <Ellipsis aria-hidden />
        </Button>
      )}
      <Sheet placement="bottom end">
        <Menu
          onAction={(name) => actions.find((a) => a.name === name)?.run()}
          disabledKeys={actions.filter((a) => a.disabled).map((a) => a.name)}
        >
          {actions.map(({ name }) => (
            <Entry key={name} id={name}>
              {name}
            </Entry>
          ))}
        </Menu>
      </Sheet>
    </MenuTrigger>
  );
}
