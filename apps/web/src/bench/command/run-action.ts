import { type FieldAction } from '@sobrin/core/bench';
import { type MenuEntry } from '../bench-menu';
import { type BenchActions, type BenchOpeners } from '../use-bench-actions';

/** Does what a line of the command field says; false where it did not go, so that the line stays. */
export function runAction(
  action: FieldAction,
  actions: BenchActions,
  menu: readonly MenuEntry[],
  opens: BenchOpeners,
): boolean {
  switch (action.do) {
    case 'add':
      return actions.add(action.model, action.count, action.site, action.name);
    case 'addSite':
      return actions.addSite(action.name);
    case 'link':
      return actions.connect(action.cable);
    case 'linkMany':
      return actions.linkMany(action.devices, action.to);
    case 'chooseLink':
      opens.link({ a: action.a, b: action.b });
      return true;
    case 'select':
      actions.choose(action);
      return true;
    case 'list':
      opens.list(action.sheet, action.devices);
      return true;
    case 'rename':
      if (!actions.rename(action.device, action.name)) return false;
      actions.choose({ devices: [action.device] });
      return true;
    case 'address':
      return actions.address(action.devices, action.source, action.port);
    case 'align':
      return actions.align(action.edge);
    case 'space':
      return actions.space(action.direction);
    case 'duplicate':
      return actions.duplicate(action.times);
    case 'trace':
      opens.trace(action.from, action.to, action.typed);
      return true;
    case 'signIn':
      opens.signIn({ from: action.from, to: action.to, ways: [action.by], changing: action.changing });
      return true;
    case 'call':
      opens.call(action.from, action.to);
      return true;
    case 'plug':
      opens.plug(action.device, action.port);
      return true;
    case 'edit':
      return actions.edit(action.title, action.commands);
    case 'menu':
      menu.find((entry) => entry.id === action.id)?.run();
      return true;
    case 'fill':
      return false;
  }
}
