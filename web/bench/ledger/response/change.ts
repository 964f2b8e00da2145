import type { ResponseSettings } from '@jossel/core/response';

/** Changes the response; `what` names the change for undo. */
export type ChangeResponse = (what: string, next: Partial<ResponseSettings>) => void;
