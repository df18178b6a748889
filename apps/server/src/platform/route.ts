import { RequestMapping, RequestMethod } from '@nestjs/common';
import { type AnswerOf, ROUTES, type RouteName } from '@sobrin/contracts';

type Handler<Name extends RouteName> = (...args: never[]) => AnswerOf<Name> | Promise<AnswerOf<Name>>;

/**
 * Makes a method of a controller answer a route of the contracts: its answer is of the type that the table tells, and
 * where the table tells a body, the method takes one of that class.
 */
export function Answers<Name extends RouteName>(name: Name) {
  return <Method extends Handler<Name>>(
    target: object,
    key: string | symbol,
    descriptor: TypedPropertyDescriptor<Method>,
  ): void => {
    const [method, path] = name.split(' ') as [keyof typeof RequestMethod, string];
    const { body } = ROUTES[name];
    const taken = Reflect.getMetadata('design:paramtypes', target, key) as unknown[];
    if (body && !taken.includes(body)) throw new Error(`${name}: ${String(key)} does not take a ${body.name}.`);
    RequestMapping({ method: RequestMethod[method], path })(target, key, descriptor);
  };
}
