import type { Role } from '../api/client';

/** Roles in the order of what they may, with what that is. */
export const roles: { value: Role; name: string; may: string }[] = [
  { value: 'reader', name: 'Reader', may: 'reads the source and the proof' },
  { value: 'reviewer', name: 'Reviewer', may: 'reads, leaves notes and suggestions' },
  { value: 'author', name: 'Author', may: 'writes' },
  { value: 'owner', name: 'Owner', may: 'writes, and decides about people' },
];

export const roleName = (role: Role) => roles.find((r) => r.value === role)!.name;
