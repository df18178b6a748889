import { contains, formatAddress, formatInterfaceAddress, isPrivate, overlaps, subnetOf } from '../../../address';
import { AddressText, Closed } from '../../../topology';
import { Ref, absent, defineRule, lost, met, placeOf } from '../../rule';
import { Type } from '@sinclair/typebox';
import { prefixProblem, blockOf, eachAddress } from './shared';
import { named } from '../family';

export const inBlockRule = defineRule({
  kind: 'inBlock',
  family: 'addressing',
  title: 'Addresses lie in a block',
  schema: Closed({ kind: Type.Literal('inBlock'), who: Ref, block: AddressText }),
  slots: { who: { type: 'ref' }, block: { type: 'prefix' } },
  fresh: { kind: 'inBlock', who: '@hosts', block: '10.0.0.0/8' },
  problems: (rule) => prefixProblem('block', rule.block),
  sentence: 'The addresses of {who} lie in {block}.',
  evaluate: (rule, context) => {
    const block = blockOf(rule.block);
    if (!block) return [absent(`${rule.block} is no block.`)];
    return eachAddress(context, rule.who, named(block.family), (on, instance) => {
      const text = `${instance.name} has ${formatInterfaceAddress(on)}.`;
      return contains(block, on.address)
        ? met(text, placeOf(instance))
        : lost(
            `${text} That is outside ${context.mark(rule.block, 'what is asked for', rule.block)}.`,
            placeOf(instance),
          );
    });
  },
});

export const outsideBlockRule = defineRule({
  kind: 'outsideBlock',
  family: 'addressing',
  title: 'A range is not used inside',
  schema: Closed({ kind: Type.Literal('outsideBlock'), who: Ref, block: AddressText }),
  slots: { who: { type: 'ref' }, block: { type: 'prefix' } },
  fresh: { kind: 'outsideBlock', who: '@hosts', block: '198.51.100.0/24' },
  problems: (rule) => prefixProblem('block', rule.block),
  sentence: 'No address of {who} comes from {block}.',
  evaluate: (rule, context) => {
    const block = blockOf(rule.block);
    if (!block) return [absent(`${rule.block} is no block.`)];
    return eachAddress(context, rule.who, named(block.family), (on, instance) => {
      const text = `${instance.name} has ${formatInterfaceAddress(on)}.`;
      return overlaps(block, subnetOf(on))
        ? lost(`${text} That is a range which is not to be used here.`, placeOf(instance))
        : met(text, placeOf(instance));
    });
  },
});

export const privateRule = defineRule({
  kind: 'private',
  family: 'addressing',
  title: 'Only private addresses',
  schema: Closed({ kind: Type.Literal('private'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'private', who: '@hosts' },
  sentence: 'Only private addresses are set on {who}.',
  evaluate: (rule, context) =>
    eachAddress(context, rule.who, {}, (on, instance) => {
      const text = `${instance.name} has ${formatAddress(on.address)}.`;
      return isPrivate(on.address)
        ? met(text, placeOf(instance))
        : lost(`${text} That is no private address.`, placeOf(instance));
    }),
});
