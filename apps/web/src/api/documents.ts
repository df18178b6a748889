import { type DocumentView } from '@sobrin/contracts';
import { type Plan } from '@sobrin/core/plan';
import { type Topology } from '@sobrin/core/topology';
import { api } from './client';

// The route gives documents of both kinds; whoever asks for one knows of which kind it is.
const read = <D extends Topology | Plan>(id: string): Promise<DocumentView<D>> =>
  api('GET documents/:id', { id }) as Promise<DocumentView<D>>;

export const readDrawing = (id: string): Promise<DocumentView> => read<Topology>(id);
export const readPlan = (id: string): Promise<DocumentView<Plan>> => read<Plan>(id);
export const readVersion = (id: string, revision: number): Promise<DocumentView> =>
  api('GET documents/:id/versions/:revision', { id, revision: String(revision) }) as Promise<DocumentView>;
