import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';

/** From 0 to 4; 3 stands for ten thousand million guesses, or more than a slow hash lets anybody make. */
const GOOD_ENOUGH = 3;
/** So much is looked at: what is good so far is good, and longer texts take long. */
const MOST_LOOKED_AT = 64;

let estimator: ZxcvbnFactory | undefined;

/** Why a password would soon be guessed, as a sentence; null where it would not. `who` are words that stand for its owner. */
export function weaknessOf(password: string, who: readonly string[]): string | null {
  estimator ??= new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });
  const words = who.flatMap((name) => [name, ...name.split(/[^\p{L}\p{N}]+/u)]).filter((word) => word.length > 2);
  const { score } = estimator.check(password.trim().slice(0, MOST_LOOKED_AT), words);
  return score >= GOOD_ENOUGH
    ? null
    : 'This password is among the first that somebody would guess: it is common, close to your name, or one thing repeated. Take another, for instance four words that have nothing to do with each other.';
}
