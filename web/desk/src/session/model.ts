import type { Member } from './api';

const RANK: Record<Member['role'], number> = { viewer: 0, editor: 1, publisher: 2, owner: 3 };

/** Whether a role includes another. The server asks again; this only spares people buttons that would refuse. */
export const mayAct = (role: Member['role'], least: Member['role']) => RANK[role] >= RANK[least];

/** "MQ" for "Marta Quill". */
export const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((part) => part[0] ?? '')
    .join('')
    .slice(0, 2)
    .toUpperCase();
