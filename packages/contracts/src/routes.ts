import { type LabFile, type SpecDifference } from '@sobrin/core/spec';
import {
  ChangePasswordRequest,
  CodeRequest,
  type DemoPerson,
  DemoSignInRequest,
  EnterRequest,
  type LinkOwner,
  LinkRequest,
  type Me,
  PasswordRequest,
  type SecondFactorSecret,
  type SecondFactorView,
  type SessionView,
  SignInRequest,
} from './accounts';
import {
  AddToRosterRequest,
  type AddedMember,
  ChangeCourseRequest,
  ChangeMemberRequest,
  type CourseSummary,
  CreateCourseRequest,
  type Invitation,
  type Member,
  type OneTimeLink,
  OrderRequest,
  RemovalRequest,
} from './courses';
import {
  type AnyDocument,
  AsideRequest,
  type DocumentView,
  NameVersionRequest,
  SaveRequest,
  type Saved,
  type SetAside,
  type Showing,
  type ShownDrawing,
  type VersionView,
} from './documents';
import {
  ChangeLabRequest,
  CreateLabRequest,
  type FileView,
  HandOutRequest,
  ImportLabRequest,
  JudgeByRequest,
  DrillRequest,
  type DrillView,
  type LabEditors,
  type LabVersionView,
  type LabView,
  type LibraryLab,
  NameEditorsRequest,
  type HintsView,
  type SelfChecksView,
  type TriesView,
  type StudentLabView,
} from './labs';
import {
  AttachRequest,
  type CausesView,
  type CheckProgress,
  type ClassRow,
  type LookInView,
  AcceptRequest,
  ChangeCommentRequest,
  CommentRequest,
  DecideRequest,
  type FoundDiagnosis,
  HandInRequest,
  type JobView,
  type LookingView,
  PinRequest,
  type ResultsView,
  type SignOffsView,
  SaveAnswersRequest,
  CountRequest,
  HintRequest,
  SelfCheckRequest,
  TryRequest,
  type StudentAttempt,
  type SubmissionView,
  UploadRequest,
  type Uploaded,
} from './submissions';

/** How Sobrin is: its core, whether the database answers, what the queue has to do, and the room on this server's disk. */
export interface Health {
  ok: boolean;
  version: string;
  database: 'answers' | 'does not answer';
  queue: { waiting: number; running: number; workers: number } | null;
  freeMegabytes: number;
}

/** What a route takes as its body, and the type of what it answers, which is there for the compiler only. */
export interface Route<Body extends object = object, Answer = unknown> {
  readonly body: (new () => Body) | null;
  readonly answer?: Answer;
}
/** A route without a body. */
const answers = <Answer>(): Route<never, Answer> => ({ body: null });
/** A route with a body of a class, which says what is taken. */
const takes = <Body extends object>(body: new () => Body) => ({
  body,
  answers: <Answer>(): Route<Body, Answer> => ({ body }),
});
/** Answers that are no JSON: files, pictures, streams of events. */
export type Raw = void;
/** An answer without a body. */
export type Nothing = void;

/** Every route of the API by its method and path. Controllers, the client of the interface and the tests' stand-in for the server go by this table. */
export const ROUTES = {
  'GET health': answers<Health>(),
  'GET metrics': answers<Raw>(),

  'POST auth/sign-in': takes(SignInRequest).answers<Me>(),
  'POST auth/demo-sign-in': takes(DemoSignInRequest).answers<Me>(),
  'GET auth/demo': answers<DemoPerson[]>(),
  'GET auth/me': answers<{ me: Me | null }>(),
  'POST auth/sign-out': answers<Nothing>(),
  'POST auth/link': takes(LinkRequest).answers<LinkOwner>(),
  'POST auth/enter': takes(EnterRequest).answers<Me>(),
  'POST auth/password': takes(ChangePasswordRequest).answers<Nothing>(),
  'GET auth/second-factor': answers<SecondFactorView>(),
  'POST auth/second-factor': takes(PasswordRequest).answers<SecondFactorSecret>(),
  'PUT auth/second-factor': takes(CodeRequest).answers<{ spareCodes: string[] }>(),
  'POST auth/second-factor/end': takes(PasswordRequest).answers<Nothing>(),
  'GET auth/sessions': answers<SessionView[]>(),
  'DELETE auth/sessions/:id': answers<Nothing>(),

  'GET courses': answers<CourseSummary[]>(),
  'POST courses': takes(CreateCourseRequest).answers<CourseSummary>(),
  'PUT courses': takes(OrderRequest).answers<Nothing>(),
  'PATCH courses/:id': takes(ChangeCourseRequest).answers<Nothing>(),
  'POST courses/:id/removal': takes(RemovalRequest).answers<Nothing>(),
  'PUT courses/:id/labs': takes(OrderRequest).answers<Nothing>(),
  'GET invitations': answers<Invitation[]>(),
  'POST courses/:id/membership': answers<Nothing>(),
  'DELETE courses/:id/membership': answers<Nothing>(),
  'GET courses/:id/roster': answers<Member[]>(),
  'POST courses/:id/roster': takes(AddToRosterRequest).answers<AddedMember[]>(),
  'PATCH courses/:id/roster/:student': takes(ChangeMemberRequest).answers<Member>(),
  'DELETE courses/:id/roster/:student': answers<Nothing>(),
  'POST courses/:id/roster/:student/link': answers<OneTimeLink>(),

  'POST courses/:id/labs': takes(CreateLabRequest).answers<{ id: string }>(),
  'POST courses/:id/labs/import': takes(ImportLabRequest).answers<{ id: string }>(),
  'GET library': answers<LibraryLab[]>(),
  'DELETE library/:id': answers<Nothing>(),
  'POST courses/:id/assignments': takes(HandOutRequest).answers<{ id: string }>(),
  'GET labs/:id/editors': answers<LabEditors>(),
  'PUT labs/:id/editors': takes(NameEditorsRequest).answers<LabEditors>(),
  'GET labs/:id': answers<LabView>(),
  'PATCH labs/:id': takes(ChangeLabRequest).answers<LabView>(),
  'POST labs/:id/removal': takes(RemovalRequest).answers<Nothing>(),
  'POST labs/:id/release': answers<LabView>(),
  'GET labs/:id/versions': answers<LabVersionView[]>(),
  'GET labs/:id/versions/:number/differences': answers<SpecDifference[]>(),
  'GET labs/:id/drills': answers<DrillView[]>(),
  'POST labs/:id/drills': takes(DrillRequest).answers<DrillView[]>(),
  'POST labs/:id/versions': answers<LabView>(),
  'PUT labs/:id/version': takes(JudgeByRequest).answers<LabView>(),
  'GET labs/:id/live': answers<Raw>(),
  'GET labs/:id/file': answers<LabFile>(),
  'POST labs/:id/files': takes(AttachRequest).answers<FileView>(),
  'GET labs/:id/files/:file': answers<Raw>(),
  'DELETE labs/:id/files/:file': answers<Nothing>(),

  'GET labs/:id/submissions': answers<ClassRow[]>(),
  'GET labs/:id/drawings/:student': answers<LookInView>(),
  'POST labs/:id/check': answers<{ checked: number }>(),
  'POST labs/:id/checks': answers<CheckProgress>(),
  'GET labs/:id/checks': answers<CheckProgress>(),
  'DELETE labs/:id/checks': answers<Nothing>(),
  'GET jobs': answers<JobView[]>(),
  'DELETE jobs/:id': answers<Nothing>(),
  'GET labs/:id/results': answers<ResultsView>(),
  'GET labs/:id/results.csv': answers<string>(),
  'GET submissions/:id': answers<SubmissionView>(),
  'POST submissions/:id/check': answers<SubmissionView>(),
  'POST submissions/:id/decisions': takes(DecideRequest).answers<SubmissionView>(),
  'DELETE submissions/:id/decisions/:decision': answers<SubmissionView>(),
  'PUT submissions/:id/pins': takes(PinRequest).answers<SubmissionView>(),
  'POST submissions/:id/comments': takes(CommentRequest).answers<SubmissionView>(),
  'PUT submissions/:id/comments/:comment': takes(ChangeCommentRequest).answers<SubmissionView>(),
  'DELETE submissions/:id/comments/:comment': answers<SubmissionView>(),
  'GET submissions/:id/diagnosis': answers<FoundDiagnosis>(),
  'GET submissions/:id/diagnosis/progress': answers<LookingView>(),
  'GET labs/:id/causes': answers<CausesView>(),
  'POST labs/:id/causes': answers<CausesView>(),
  'GET labs/:id/sign-offs': answers<SignOffsView>(),
  'POST labs/:id/proposals': takes(AcceptRequest).answers<{ decided: number }>(),

  'GET my/labs/:id': answers<StudentLabView>(),
  'POST my/labs/:id/upload': takes(UploadRequest).answers<Uploaded>(),
  'PUT my/labs/:id/answers': takes(SaveAnswersRequest).answers<Nothing>(),
  'POST my/labs/:id/attachments': takes(AttachRequest).answers<FileView>(),
  'DELETE my/labs/:id/attachments/:attachment': answers<Nothing>(),
  'GET my/labs/:id/attempts/:attempt': answers<StudentAttempt>(),
  'POST my/labs/:id/self-checks': takes(SelfCheckRequest).answers<SelfChecksView>(),
  'POST my/labs/:id/tries': takes(TryRequest).answers<TriesView>(),
  'POST my/labs/:id/hints': takes(HintRequest).answers<HintsView>(),
  'PUT my/labs/:id/counting': takes(CountRequest).answers<Nothing>(),
  'POST my/labs/:id/hand-in': takes(HandInRequest).answers<{ id: string; attempt: number; late: boolean }>(),

  'GET documents/:id': answers<DocumentView<AnyDocument>>(),
  'POST documents/:id/changes': takes(SaveRequest).answers<Saved<AnyDocument>>(),
  'POST documents/:id/aside': takes(AsideRequest).answers<SetAside>(),
  'GET documents/:id/live': answers<Raw>(),
  'GET documents/:id/versions': answers<VersionView[]>(),
  'POST documents/:id/versions': takes(NameVersionRequest).answers<Nothing>(),
  'GET documents/:id/versions/:revision': answers<DocumentView<AnyDocument>>(),
  'GET documents/:id/picture.:format': answers<Raw>(),
  'GET documents/:id/showing': answers<Showing>(),
  'POST documents/:id/showing': answers<Showing>(),
  'DELETE documents/:id/showing': answers<Nothing>(),
  'GET shown/:key': answers<ShownDrawing>(),
  'GET attachments/:id': answers<Raw>(),
} as const satisfies Record<string, Route>;

export type RouteName = keyof typeof ROUTES;

/** The route of a method and a path, without its query; null where there is none. Words stand before placeholders. */
export function routeOf(method: string, path: string): RouteName | null {
  const [plain] = path.split('?') as [string];
  const names = (Object.keys(ROUTES) as RouteName[]).filter((name) => name.startsWith(`${method} `));
  const fits = (name: RouteName): boolean => {
    const pattern = name.slice(method.length + 1).split('/');
    const parts = plain.split('/');
    return (
      pattern.length === parts.length &&
      pattern.every((part, at) =>
        part.includes(':')
          ? parts[at]!.startsWith(part.slice(0, part.indexOf(':'))) && parts[at] !== ''
          : part === parts[at],
      )
    );
  };
  return names.sort((a, b) => a.split(':').length - b.split(':').length).find(fits) ?? null;
}
