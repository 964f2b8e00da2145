import { createContext, useContext, useState } from 'react';
import styled from 'styled-components';
import type { Setting } from '@jossel/core/generate';
import { printNumber } from '@jossel/core/units';
import { UNIT_SIGNS } from '../../../controls/fields';

/** What a setting is, said in one line while the keyboard is on it or the pointer rests on it. */

const Line = styled.p`
  position: sticky;
  bottom: 0;
  z-index: 1;
  min-height: 44px;
  padding: 4px 0 6px;
  font-size: 12px;
  color: ${({ theme }) => theme.quiet};
  background: ${({ theme }) => theme.sheet};
  border-top: 1px solid ${({ theme }) => theme.line};
`;

const Explain = createContext<(text: string | null) => void>(() => undefined);

/** Around settings; says at the lower edge of the ledger what the setting in hand is, or what holds for all of them. */
export function SettingHelp({ general, children }: { general: string; children: React.ReactNode }) {
  const [text, setText] = useState<string | null>(null);
  return (
    <Explain value={setText}>
      {children}
      <Line>{text ?? general}</Line>
    </Explain>
  );
}

/** Name, what it is, and what it may be. */
export function helpOn(setting: Setting): string {
  const says = `${setting.label}: ${setting.about}`;
  if (setting.kind !== 'figure') return `${says}.`;
  const print = (v: number) => printNumber(v, 3);
  const unit = UNIT_SIGNS[setting.unit];
  return `${says}; ${print(setting.least)} to ${print(setting.most)}${unit ? `\u2009${unit}` : ''}.`;
}

/** One setting; the innermost that is touched explains itself. */
export function Explained({ setting, children }: { setting: Setting; children: React.ReactNode }) {
  const explain = useContext(Explain);
  const help = helpOn(setting);
  const say = (e: React.SyntheticEvent) => {
    e.stopPropagation();
    explain(help);
  };
  return (
    <div onFocus={say} onMouseOver={say} onBlur={() => explain(null)} onMouseLeave={() => explain(null)}>
      {children}
    </div>
  );
}
