/** What keys do with the plate that is on view, whichever it is. */
export interface PlateActions {
  zoom: (larger: boolean) => void;
  fit: () => void;
}

let current: PlateActions | null = null;

/** A plate came into view; returns what takes it away again. */
export function offerPlate(actions: PlateActions): () => void {
  current = actions;
  return () => {
    if (current === actions) current = null;
  };
}

export const plateInView = (): PlateActions | null => current;
