/** Where definitions lie that are put away: archived ones, and deleted ones while they can be taken back. */
export type Shelf = 'archived' | 'deleted';
