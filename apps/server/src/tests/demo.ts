import {
  type CourseSummary,
  type DocumentView,
  type LabView,
  type Refusal,
  type StudentLabView,
} from '@sobrin/contracts';
import { type Plan } from '@sobrin/core/plan';
import { type Person, type TestApplication, startApplication } from './application';

/** A real Sobrin with the demo for one test file, and short ways to what its people see. */
export class Demo {
  running!: TestApplication;
  maren!: Person;
  zofia!: Person;

  async start(): Promise<void> {
    this.running = await startApplication();
    this.maren = await this.running.as('maren');
    this.zofia = await this.running.as('zofia.wrona');
  }
  async courses(who: Person): Promise<CourseSummary[]> {
    return (await who.get('courses').expect(200)).body as CourseSummary[];
  }
  async labId(title: string): Promise<string> {
    const demo = (await this.courses(this.maren)).find((course) => course.title === 'Networks 1')!;
    return demo.labs.find((lab) => lab.title === title)!.id;
  }
  async labOf(title: string): Promise<LabView> {
    return (await this.maren.get(`labs/${await this.labId(title)}`).expect(200)).body as LabView;
  }
  async myLab(who: Person, title: string): Promise<StudentLabView> {
    return (await who.get(`my/labs/${await this.labId(title)}`).expect(200)).body as StudentLabView;
  }
  async drawing(who: Person, id: string): Promise<DocumentView> {
    return (await who.get(`documents/${id}`).expect(200)).body as DocumentView;
  }
  async plan(who: Person, id: string): Promise<DocumentView<Plan>> {
    return (await who.get(`documents/${id}`).expect(200)).body as DocumentView<Plan>;
  }
}

/** Starts the demo before the tests of a file and ends it after them. */
export function useDemo(): Demo {
  const demo = new Demo();
  beforeAll(() => demo.start());
  afterAll(() => demo.running.close());
  return demo;
}

export const refusal = (response: { body: unknown }): Refusal => response.body as Refusal;
