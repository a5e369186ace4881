import { createContext, useContext } from 'react';
import type { Member, Right, Role, Site, Workspace } from './api';

/** A member as they are in the workspace of the site they look at. */
export interface AtDesk extends Member {
  role: Role;
  rights: readonly Right[];
}

/** Who is at the desk, and of which site. */
export interface Desk {
  member: AtDesk;
  workspace: Workspace;
  site: Site;
  /** Goes to the same section of another site, by its key. */
  chooseSite(siteKey: string): void;
}

export const DeskContext = createContext<Desk | undefined>(undefined);

/** The desk one sits at; only used below the gate, where there always is one. */
export function useDesk(): Desk {
  const desk = useContext(DeskContext);
  if (!desk) throw new Error('Used outside the desk');
  return desk;
}
