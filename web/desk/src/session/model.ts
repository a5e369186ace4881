import type { Right, Role } from './api';

/** Whether a member has a right in the workspace. The server asks again; this only spares people buttons that would refuse. */
export const mayAct = (member: { rights: readonly Right[] }, right: Right) => member.rights.includes(right);

/** The roles in words, as the table of rights has them. */
export const ROLE_WORDS: Record<Role, string> = {
  owner: 'Owner',
  publisher: 'Publisher',
  editor: 'Editor',
  responder: 'Responder',
  viewer: 'Viewer',
};

/** "MQ" for "Marta Quill". */
export const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((part) => part[0] ?? '')
    .join('')
    .slice(0, 2)
    .toUpperCase();
