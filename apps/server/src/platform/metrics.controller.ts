import { Controller, Headers, type NestMiddleware, Injectable, Res, UnauthorizedException } from '@nestjs/common';
import { type NextFunction, type Request, type Response } from 'express';
import { timingSafeEqual } from 'node:crypto';
import { Gauge, Histogram, type OpenMetricsContentType, Registry, collectDefaultMetrics } from 'prom-client';
import { Public } from '../accounts/session.guard';
import { hashOf } from '../accounts/tokens';
import { JobsService } from '../jobs/jobs.service';
import { config } from './config';
import { refuse } from './refusal';
import { Answers } from './route';

/** From what is at once to what somebody gives up on, in seconds. */
const BUCKETS = [0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10, 30];

/** What this process counts, in the OpenMetrics text format 1.0. */
@Injectable()
export class MetricsService {
  private readonly registry = new Registry<OpenMetricsContentType>();
  private readonly requests = new Histogram({
    name: 'sobrin_request_duration_seconds',
    help: 'Requests by method, route and status; live lines are counted when they end.',
    labelNames: ['method', 'route', 'status'],
    buckets: BUCKETS,
    registers: [this.registry],
  });

  constructor(jobs: JobsService) {
    this.registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE);
    collectDefaultMetrics({ register: this.registry });
    const queue = new Gauge({
      name: 'sobrin_queue_jobs',
      help: 'Jobs of all servers that wait or run.',
      labelNames: ['state'],
      registers: [this.registry],
      collect: async () => {
        const { waiting, running, workers: alive } = await jobs.load();
        queue.set({ state: 'waiting' }, waiting);
        queue.set({ state: 'running' }, running);
        workers.set(alive);
      },
    });
    const workers = new Gauge({
      name: 'sobrin_workers',
      help: 'Workers of this database that are alive.',
      registers: [this.registry],
    });
  }

  /** Counts a request once it is answered. */
  count(request: Request, response: Response): void {
    const end = this.requests.startTimer();
    response.once('close', () => {
      // By the route and never by what somebody typed, or there would be as many rows as addresses.
      const route = (request.route as { path?: string } | undefined)?.path ?? 'none';
      end({ method: request.method, route, status: response.statusCode });
    });
  }

  text(): Promise<string> {
    return this.registry.metrics();
  }
}

@Injectable()
export class CountRequests implements NestMiddleware {
  constructor(private readonly metrics: MetricsService) {}

  use(request: Request, response: Response, next: NextFunction): void {
    this.metrics.count(request, response);
    next();
  }
}

/** For a program that collects figures; not there unless a setting names the word that it sends. */
@Controller()
export class MetricsController {
  constructor(private readonly metrics: MetricsService) {}

  @Public()
  @Answers('GET metrics')
  async read(@Headers('authorization') authorization = '', @Res() response: Response): Promise<void> {
    const token = config.metricsToken;
    if (token === null) throw refuse.missing('page');
    const [sent, wanted] = [authorization, `Bearer ${token}`].map((text) => Buffer.from(hashOf(text)));
    if (!timingSafeEqual(sent!, wanted!))
      throw new UnauthorizedException({
        message: 'Send "Authorization: Bearer" with what SOBRIN_METRICS_TOKEN holds.',
      });
    response.setHeader('Content-Type', Registry.OPENMETRICS_CONTENT_TYPE);
    response.send(await this.metrics.text());
  }
}
