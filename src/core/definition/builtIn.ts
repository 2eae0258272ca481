export const statuses = ['draft', 'published', 'archived'] as const;

export type Status = (typeof statuses)[number];

/** Names that every entry has of itself; no model may define a field with one of them. */
export const reservedNames = ['id', 'type', 'status', 'created', 'changed', 'publicFrom', 'publicUntil'] as const;
