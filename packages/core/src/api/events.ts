import type { FitView, KindsView, SavingsView } from './fit-views.js';
import type { FollowView } from './follow-views.js';
import type { StripProgress } from './footage-views.js';
import type { SendingView } from './host.js';
import type { HoldingView } from './still-views.js';
import type { TrialView } from './trial-views.js';
import type { WeaveAdviceView, WeavingView } from './weaving-views.js';

/** Server-sent events. */
export type PondEvent =
  | { readonly type: 'footage'; readonly footage: string; readonly strip: StripProgress }
  | {
      readonly type: 'activity';
      readonly footage: string;
      /** For how many frames it is known what happens. */
      readonly frames: number;
    }
  | { readonly type: 'holding'; readonly holding: HoldingView }
  | { readonly type: 'weaving'; readonly weaving: WeavingView }
  | { readonly type: 'weave-advice'; readonly advice: WeaveAdviceView }
  | { readonly type: 'fit'; readonly fit: FitView }
  | { readonly type: 'follow'; readonly follow: FollowView }
  | { readonly type: 'kinds'; readonly kinds: KindsView }
  | { readonly type: 'sending'; readonly sending: SendingView }
  /** Something changed at the practice host. */
  | { readonly type: 'host' }
  | { readonly type: 'savings'; readonly savings: SavingsView }
  | { readonly type: 'trial'; readonly trial: TrialView }
  | { readonly type: 'trial-gone'; readonly piece: string; readonly id: string };
