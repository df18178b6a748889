import { createBrowserRouter } from 'react-router';
import { Gate } from './account/gate';
import { SignIn } from './account/sign-in';
import { Home } from './home/home';
import { LabShell } from './lab/lab-shell';
import { NotFound } from './ui/not-found';
import { Waiting } from './ui/states';

/** One path a screen; the heavy ones are loaded when they are first opened. */
export const router = createBrowserRouter([
  { path: '/sign-in', element: <SignIn />, errorElement: <NotFound /> },
  {
    path: '/enter',
    errorElement: <NotFound />,
    hydrateFallbackElement: <Waiting what="Opening Sobrin" />,
    lazy: async () => ({ Component: (await import('./account/enter-page')).EnterPage }),
  },
  {
    path: '/shown/:key',
    errorElement: <NotFound />,
    hydrateFallbackElement: <Waiting what="Opening Sobrin" />,
    lazy: async () => ({ Component: (await import('./shown/shown-page')).ShownPage }),
  },
  {
    element: <Gate />,
    errorElement: <NotFound />,
    hydrateFallbackElement: <Waiting what="Opening Sobrin" />,
    children: [
      { path: '/', element: <Home /> },
      { path: '/jobs', lazy: async () => ({ Component: (await import('./jobs/jobs-page')).JobsPage }) },
      {
        path: '/courses/:courseId',
        lazy: async () => ({ Component: (await import('./course/course-page')).CoursePage }),
      },
      {
        path: '/labs/:labId',
        element: <LabShell />,
        children: [
          { path: 'brief', lazy: async () => ({ Component: (await import('./brief/brief-page')).BriefPage }) },
          { path: 'plan', lazy: async () => ({ Component: (await import('./plan/plan-page')).PlanPage }) },
          {
            path: 'bench',
            lazy: async () => ({ Component: (await import('./bench/reference-bench')).ReferenceBench }),
          },
          { path: 'spec', lazy: async () => ({ Component: (await import('./spec/spec-page')).SpecPage }) },
          { path: 'spec/drill', lazy: async () => ({ Component: (await import('./drill/drill-page')).DrillPage }) },
          { path: 'class', lazy: async () => ({ Component: (await import('./class/class-page')).ClassPage }) },
          {
            path: 'class/sign-offs',
            lazy: async () => ({ Component: (await import('./class/sign-offs-page')).SignOffsPage }),
          },
          {
            path: 'class/:submissionId',
            lazy: async () => ({ Component: (await import('./checking/check-page')).CheckPage }),
          },
          {
            path: 'class/drawings/:studentId',
            lazy: async () => ({ Component: (await import('./class/look-in-page')).LookInPage }),
          },
          { path: 'results', lazy: async () => ({ Component: (await import('./results/results-page')).ResultsPage }) },
        ],
      },
      {
        path: '/my/labs/:labId',
        lazy: async () => ({ Component: (await import('./student/student-lab')).StudentLab }),
      },
      {
        path: '/my/labs/:labId/bench',
        lazy: async () => ({ Component: (await import('./student/student-bench')).StudentBench }),
      },
      {
        path: '/my/labs/:labId/plan',
        lazy: async () => ({ Component: (await import('./student/student-plan')).StudentPlan }),
      },
      {
        path: '/my/labs/:labId/attempts/:attemptId',
        lazy: async () => ({ Component: (await import('./student/student-attempt')).StudentAttempt }),
      },
      { path: '*', element: <NotFound /> },
    ],
  },
]);
