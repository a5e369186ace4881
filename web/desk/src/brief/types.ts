import type { Schema } from '../data/api';

export type Callout = Schema<'CalloutView'>;
export type CalloutListItem = Schema<'CalloutListView'>;
export type Brief = Schema<'Brief'>;
export type Source = Schema<'SourceView'>;
