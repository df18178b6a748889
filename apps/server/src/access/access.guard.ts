import {
  type CanActivate,
  type ExecutionContext,
  ForbiddenException,
  Injectable,
  SetMetadata,
  createParamDecorator,
} from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { isUUID } from 'class-validator';
import { RecordsService } from '../accounts/records.service';
import { type SignedRequest, isPublic } from '../accounts/session.guard';
import { refuse } from '../platform/refusal';
import { AccessService, type Granted, type ObjectKind, type Rights } from './access.service';

interface Needed {
  right: string;
  kind: ObjectKind;
}
interface AccessRequest extends SignedRequest {
  granted?: Granted[ObjectKind];
  stillMay?: () => Promise<boolean>;
}

const NEEDS = 'sobrin:needs';
/** What a route does with the object that its first parameter, `:id`, names. */
export const Needs = <Kind extends ObjectKind>(right: Rights[Kind], kind: Kind) =>
  SetMetadata(NEEDS, { right, kind } satisfies Needed);

/** The object of `Needs`. */
export const TheObject = createParamDecorator(
  (_data: unknown, context: ExecutionContext): Granted[ObjectKind] | undefined =>
    context.switchToHttp().getRequest<AccessRequest>().granted,
);

/** Asks again whether the person is signed in and may, for what lasts longer than a request. */
export const StillMay = createParamDecorator(
  (_data: unknown, context: ExecutionContext): (() => Promise<boolean>) | undefined =>
    context.switchToHttp().getRequest<AccessRequest>().stillMay,
);

/** Asks the access service what a route needs, once. A route that names an object and not what it needs is a mistake. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    private readonly access: AccessService,
    private readonly records: RecordsService,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const request = context.switchToHttp().getRequest<AccessRequest>();
    const { method } = request;
    const route = (request.route as { path: string }).path;
    if (isPublic(this.reflector, context)) return true;
    const needed = this.reflector.get<Needed | undefined>(NEEDS, context.getHandler());
    if (!needed && !route.includes(':')) return true;
    if (!needed) throw new Error(`${method} ${route} does not say what it needs.`);
    const me = request.me!;
    try {
      if (needed.right === 'create') this.access.mayCreateCourse(me);
      else request.granted = await this.ask(request, needed);
    } catch (error) {
      if (error instanceof ForbiddenException)
        void this.records.write('role refused', me.login, request, `${method} ${route}`);
      throw error;
    }
    request.stillMay = async () =>
      (await request.isSignedIn()) &&
      this.ask(request, needed).then(
        () => true,
        () => false,
      );
    return true;
  }

  private ask(request: AccessRequest, { right, kind }: Needed): Promise<Granted[ObjectKind]> {
    const { id } = request.params;
    if (!isUUID(id)) throw refuse.input(`"${String(id).slice(0, 60)}" is no id: nothing is there.`);
    return this.access.grant(request.me!, right as Rights[ObjectKind], kind, id as string);
  }
}
