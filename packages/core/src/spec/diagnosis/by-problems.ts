import { type NetworkModel, problemsOf } from '../../engine';
import { repairOf } from '../../editing';
import { type Brief, type Plan, planTree } from '../../plan';
import { type Change } from './change';

/** What the list of problems of a drawing says is wrong and can mend for certain. */
export function byProblems(model: NetworkModel, plan: Plan, brief: Brief): Change[] {
  const known = { tree: planTree(plan), brief };
  return problemsOf(model).flatMap((problem): Change[] => {
    const repair = repairOf(model.topology, problem, { options: model.options, plan: known });
    if (!repair) return [];
    const { device, port, link } = problem.at;
    const name = device === undefined ? undefined : model.instances.get(device)?.name;
    return [
      {
        thing: `${problem.code} ${JSON.stringify(problem.at)}`,
        sort: problem.code,
        what: 'other',
        source: 'problem',
        commands: repair.commands,
        places: [
          {
            ...(device !== undefined && { device }),
            ...(port !== undefined && { port }),
            ...(link !== undefined && { link }),
          },
        ],
        text: problem.text,
        at: name === undefined ? problem.text : `${name}${port === undefined ? '' : ` ${port}`}`,
        field: '',
        repair: [repair.text],
        alike: JSON.stringify([problem.code, repair.text]),
        fields: repair.commands.length,
        opens: false,
        leftOut: false,
        members: 1,
      },
    ];
  });
}
