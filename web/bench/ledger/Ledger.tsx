import { memo } from 'react';
import styled from 'styled-components';
import { Disclosure, DisclosurePanel, Button, Heading } from 'react-aria-components';
import { SECTIONS } from '@jossel/core/surface';
import type { Basis } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { BasisMark } from '../../controls/marks';
import { steady } from '../../controls/steady';
import { benchSlice } from '../bench-slice';
import { withKey } from '../keys/bench-keys';
import { useFollowed } from '../open/drawings';
import { useInHand } from '../open/in-hand';
import { HEADS, type ForHeads } from './heads';
import { PANELS } from './panels';

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
  remark,
  isOpen,
  onOpen,
  children,
}: {
  name: string;
  /** Key that opens it. */
  shortcut: string;
  basis: Basis | undefined;
  figures: string;
  /** What is said of the figures, less prominently. */
  remark?: string | undefined;
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
          <span className="figures">
            {figures}
            {remark && <span className="quiet"> {remark}</span>}
          </span>
        </Head>
      </Heading>
      <DisclosurePanel>{children && <Panel>{children}</Panel>}</DisclosurePanel>
    </Fold>
  );
});

/** The data sheet of the finish, which is also its controls. */
export const Ledger = memo(function Ledger() {
  const { finish, recipe, leading } = useInHand();
  const report = useFollowed().drawn?.report ?? null;
  const open = useAppSelector((s) => s.bench.section);
  const units = useAppSelector((s) => s.settings.units);
  const dispatch = useAppDispatch();
  const of: ForHeads = { recipe, leading, report, revisions: finish.revisions, units };
  return (
    <Scroll aria-label="Ledger" role="region">
      {SECTIONS.map((section, k) => {
        const { name, head } = HEADS[section];
        const { basis, figures, remark } = head(of);
        const Panel = PANELS[section];
        return (
          <Entry
            key={section}
            name={name}
            shortcut={String(k + 1)}
            basis={basis}
            figures={figures}
            remark={remark}
            isOpen={open === section}
            onOpen={(isOpen) => dispatch(benchSlice.actions.changed({ section: isOpen ? section : null }))}
          >
            {open === section ? <Panel /> : null}
          </Entry>
        );
      })}
    </Scroll>
  );
});
