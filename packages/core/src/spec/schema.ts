import { type Static, type TSchema, Type } from '@sinclair/typebox';
import { Closed, Count, Id, Line, ListOf, MapOf, Maybe, Name, OneOf, Paragraphs, Topology } from '../topology';
import { Brief, Plan } from '../plan';
import { type Rule } from './combining';
import { RULE_KINDS } from './rules';
import { Ref } from './rule';
import { Selection } from './selection';

const Rules = (This: TSchema) => Type.Array(This, { minItems: 1, maxItems: 16 });
/** The shape of a rule: one of the kinds of spec/rules, or a combination of rules. */
export const RuleSchema = Type.Unsafe<Rule>(
  Type.Recursive(
    (This) =>
      Type.Union([
        ...RULE_KINDS.map((kind) => kind.schema),
        Closed({ kind: Type.Literal('allOf'), rules: Rules(This) }),
        Closed({ kind: Type.Literal('anyOf'), rules: Rules(This) }),
        Closed({ kind: Type.Literal('nOf'), n: Type.Integer({ minimum: 1, maximum: 16 }), rules: Rules(This) }),
        Closed({ kind: Type.Literal('not'), rule: This }),
        Closed({ kind: Type.Literal('notAll'), rule: This }),
        Closed({ kind: Type.Literal('ifThen'), if: This, then: This, else: Maybe(This) }),
        Closed({ kind: Type.Literal('forEach'), who: Ref, rule: This }),
      ] as TSchema[]),
    { $id: 'rule' },
  ),
);

/** A rule with the points it is worth and how they are given. */
export const Requirement = Closed({
  id: Id,
  points: Type.Number({ minimum: 0, maximum: 1000 }),
  bonus: Maybe(Type.Boolean()),
  deduction: Maybe(Type.Boolean({ description: 'whether its points are taken off where it is found not to hold' })),
  hurdle: Maybe(Type.Boolean({ description: 'whether nobody passes without it, whatever the points' })),
  /** Ids of requirements without which it counts nothing. */
  standsOn: Maybe(ListOf(Id, 16)),
  credit: Maybe(OneOf('all', 'share')),
  given: Maybe(
    Type.Literal('counts', {
      description: 'what the starter fulfils already counts, too; else only what goes beyond it',
    }),
  ),
  task: Maybe(Id),
  stage: Maybe(Id),
  carried: Maybe(
    Type.Literal(false, {
      description: 'what the lab is about: what was lost on it is never given back where a mistake counts once',
    }),
  ),
  hints: Maybe(Closed({ that: Maybe(Line), where: Maybe(Line), what: Maybe(Line) })),
  wording: Maybe(Line),
  rule: RuleSchema,
});
/** Requirements under a title. */
export const Section = Closed({
  id: Id,
  title: Name,
  /** Ids of requirements without which nothing of it counts. */
  standsOn: Maybe(ListOf(Id, 16)),
  hurdle: Maybe(
    Type.Number({ minimum: 1, maximum: 100, description: 'per cent of its points that are needed to pass' }),
  ),
  requirements: ListOf(Requirement, 500),
});
/** What a submission must fulfil: groups of devices, and sections of requirements. */
export const Spec = Closed({
  /** Of devices of the reference, or of those that a selection chooses there, else in each drawing. */
  groups: MapOf(Closed({ title: Name, roles: ListOf(Ref, 5000), select: Maybe(Selection) })),
  sections: ListOf(Section, 64),
  /** Ways to draw the same network otherwise that are meant to lose a requirement: `way` is that of the drill. */
  meant: Maybe(ListOf(Closed({ way: Id, requirement: Id }), 500)),
});

/** A task as students read it, in Markdown. */
export const Task = Closed({ id: Id, text: Paragraphs });
/** How much a source of routes is believed, the least first. */
const Distance = Type.Integer({ minimum: 1, maximum: 255 });
/** The rules of a lab: what students may use, what the Bench tells them, and how often they hand in. */
export const Policy = Closed({
  bench: Maybe(OneOf('coach', 'plain', 'examination')),
  autoPairing: Maybe(Type.Boolean()),
  vlanDatabase: Maybe(OneOf('implicit', 'created')),
  filterOut: Maybe(OneOf('before-translation', 'after-translation')),
  borderRouters: Maybe(OneOf('rfc3509', 'rfc2328')),
  distances: Maybe(
    Closed({ static: Maybe(Distance), ospf: Maybe(Distance), rip: Maybe(Distance), learnt: Maybe(Distance) }),
  ),
  attempts: Maybe(Type.Integer({ minimum: 1, maximum: 100 })),
  /** Which of several attempts counts: the last one, the best one, or the one that its student chose, else the last. */
  counts: Maybe(OneOf('last', 'best', 'chosen')),
  /** How often students may have their work judged before they hand it in, and what they are told of it. */
  selfChecks: Maybe(
    Closed({
      most: Type.Integer({ minimum: 1, maximum: 50 }),
      /** Ids of requirements of which it is told whether they are met; the points of each section where it is absent. */
      requirements: Maybe(ListOf(Id, 500)),
    }),
  ),
  late: Maybe(OneOf('refused', 'accepted')),
  rounding: Maybe(Type.Number({ minimum: 0.01, maximum: 1 })),
  /** Whether any name is as good, or a device plays the part that its name has in the reference, and no other. */
  names: Maybe(OneOf('any', 'exact')),
  /** How often students may ask, of each number and each choice that they answer, whether it is right. */
  tries: Maybe(Type.Integer({ minimum: 1, maximum: 20 })),
  /** What each hint costs that a student asks for while working, in points; where it is absent nobody can ask. */
  hintCost: Maybe(Type.Number({ minimum: 0, maximum: 100 })),
  autoCabling: Maybe(Type.Boolean({ description: 'whether the bench may choose ports and media for a student' })),
  /** The models that the lab allows, with how many of each; all of them where it is absent. */
  kit: Maybe(MapOf(Closed({ most: Maybe(Count), cost: Maybe(Type.Number({ minimum: 0, maximum: 1_000_000 })) }))),
  /** Whether what is missing costs where it is asked for, or also where something is asked of it. */
  missing: Maybe(OneOf('once', 'everywhere')),
  modules: Maybe(OneOf('any-time', 'power-off')),
  lookIn: Maybe(
    Type.Boolean({ description: 'whether staff may look at drawings before they are handed in, and comment on them' }),
  ),
  latePenalty: Maybe(
    Closed({
      percentPerDay: Type.Number({ minimum: 0, maximum: 100 }),
      most: Maybe(Type.Number({ minimum: 0, maximum: 100 })),
    }),
  ),
  /** Whether a mistake counts once: what follows from it is given back. */
  followThrough: Maybe(OneOf('off', 'on')),
  /** What each mistake costs then; where it is absent, what was lost on what judges the mistaken thing itself. */
  mistakeCost: Maybe(Type.Number({ minimum: 0, maximum: 1000 })),
  /** How many repairs are tried at most to find out which mistakes they were. */
  mistakeRuns: Maybe(Type.Integer({ minimum: 20, maximum: 2000 })),
  shown: Maybe(
    Closed({
      /** How much of a result students see; findings with the sections and points of the lesser ones. */
      what: Maybe(OneOf('nothing', 'points', 'sections', 'findings')),
      /** What findings say: that something is wrong, where it is, or what it is. */
      strength: Maybe(OneOf('that', 'where', 'what')),
      when: Maybe(OneOf('at-once', 'after-due', 'when-returned')),
    }),
  ),
});

/** What students get besides the tasks; blanks are values withheld from its tables. */
export const Handout = Closed({
  introduction: Maybe(Paragraphs),
  blanks: Maybe(ListOf(Closed({ device: Id, field: Line }), 5000)),
  resources: Maybe(ListOf(Closed({ title: Line, address: Line }), 64)),
});

/** A lab may be handed in by stages, each with its own due date. */
export const Stage = Closed({
  id: Id,
  title: Name,
  kind: OneOf('plan', 'build', 'shown', 'final'),
  dueAt: Maybe(
    Type.String({ pattern: '^\\d{4}-\\d{2}-\\d{2}T\\d{2}:\\d{2}(:\\d{2}(\\.\\d+)?)?(Z|[+-]\\d{2}:\\d{2})$' }),
  ),
});

/** A file that comes with a lab: pictures of the scenario, and whatever else students get. */
export const LabAttachment = Closed({ id: Id, name: Line, type: Line, base64: Type.String({ maxLength: 8_000_000 }) });

/**
 * Version 2: groups, sites and separations have ids and properties of their own; addresses of a plan are a map. Version 3:
 * what students see of results has one moment; plans are of version 2. Version 4: drawings of version 2, and what they know
 * is counted. Version 5: drawings of version 3, and what equipment of a lab does where routing leaves a choice. Version 6: rules
 * need name no family of addresses, there are more kinds of them, they combine by more than all, any and not, and
 * requirements may be deductions or hurdles, and stand on others. Version 7: kinds for sign-offs, given tables, choices, numbers and
 * costs; kits have prices, and a missing link may cost once or everywhere. Version 8: mistakes may count once, at a cost, and a
 * requirement be kept out of that. Version 9: names may be prescribed, answers tried, hints asked for at a cost, and the attempt
 * that counts chosen.
 */
export const LAB_VERSION = 9;
/** A lab as a file: its parts, its plan, its drawings and the files that come with it. */
export const LabFile = Type.Object(
  {
    format: Type.Literal('sobrin-lab'),
    version: Type.Literal(LAB_VERSION),
    title: Line,
    brief: Brief,
    tasks: ListOf(Task, 200),
    plan: Plan,
    reference: Topology,
    starter: Maybe(Topology),
    spec: Spec,
    handout: Maybe(Handout),
    policy: Policy,
    stages: Maybe(ListOf(Stage, 16)),
    files: Maybe(ListOf(LabAttachment, 64)),
  },
  { additionalProperties: false, title: `Sobrin lab, version ${LAB_VERSION}` },
);

/** Version 2: addresses of a plan are a map. Version 3: plans of version 2. */
export const SUBMISSION_VERSION = 3;
/** What a student hands in as a file. */
export const SubmissionFile = Type.Object(
  {
    format: Type.Literal('sobrin-submission'),
    version: Type.Literal(SUBMISSION_VERSION),
    student: Maybe(Name),
    plan: Maybe(Plan),
    topology: Maybe(Topology),
    answers: Maybe(MapOf(Paragraphs)),
    configTexts: Maybe(ListOf(Closed({ device: Name, text: Type.String({ maxLength: 200_000 }) }), 500)),
    attachments: Maybe(ListOf(Closed({ name: Line, type: Line, base64: Type.String({ maxLength: 14_000_000 }) }), 32)),
    stage: Maybe(Id),
    origin: Maybe(Line),
  },
  { additionalProperties: false, title: 'Sobrin submission, version 3' },
);

export type Requirement = Static<typeof Requirement>;
export type Section = Static<typeof Section>;
export type Spec = Static<typeof Spec>;
export type Task = Static<typeof Task>;
export type Policy = Static<typeof Policy>;
export type Handout = Static<typeof Handout>;
export type Stage = Static<typeof Stage>;
export type LabAttachment = Static<typeof LabAttachment>;
export type LabFile = Static<typeof LabFile>;
export type SubmissionFile = Static<typeof SubmissionFile>;
