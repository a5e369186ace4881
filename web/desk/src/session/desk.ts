import { createContext, useContext } from 'react';
import type { Member, Site } from './api';

/** Who is at the desk, and of which site. */
export interface Desk {
  member: Member;
  site: Site;
  /** Goes to the same section of another site of the workspace, by its key. */
  chooseSite(siteKey: string): void;
}

export const DeskContext = createContext<Desk | undefined>(undefined);

/** The desk one sits at; only used below the gate, where there always is one. */
export function useDesk(): Desk {
  const desk = useContext(DeskContext);
  if (!desk) throw new Error('Used outside the desk');
  return desk;
}
