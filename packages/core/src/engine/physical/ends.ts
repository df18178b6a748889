import { type Instance, type Port, type Reason } from '../devices';

/** One end of a cable or a channel. */
export interface End {
  instance: Instance;
  port: Port;
}
/** What cables and ports alone say of a channel: why it does not come up, or how fast it is. */
export type Judged = { readonly reason: Reason } | { readonly speedMbps: number; readonly warnings: readonly Reason[] };
