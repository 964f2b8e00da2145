import type { LayoutSettings } from '@jossel/core/layout';

/** What every block of the section gets. */
export interface PanelProps {
  layout: LayoutSettings;
  /** Changes the layout; `what` names the change. */
  change: (what: string, part: Partial<LayoutSettings>) => void;
}
