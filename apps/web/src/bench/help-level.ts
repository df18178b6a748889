/** How much the bench tells: problems and what fits (coach), link states as equipment shows them (plain), or neither. */
export type HelpLevel = 'coach' | 'plain' | 'examination';
