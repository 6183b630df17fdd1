import { configure } from '@testing-library/react';
import type { Json } from '../../src/web/src/api/client';

// Only what fails waits so long.
configure({ asyncUtilTimeout: 60_000 });

/** What a request asked for. */
export type Asked = { method: string; path: string; body: Json };

type Answer = { status: number; body: unknown } | 'unreachable';

// The app's client takes hold of fetch when it is loaded, so this stands before it.
const servers: Server[] = [];
globalThis.fetch = (input) => (servers.at(-1) as Server).ask(input as Request);

/** A stand-in for the server: every request waits until the test answers it. The newest one is asked. */
export class Server {
  readonly asked: Asked[] = [];
  private waiting: { asked: Asked; resolve: (answer: Response) => void; reject: (error: Error) => void }[] = [];

  constructor() {
    servers.push(this);
  }

  async ask(request: Request): Promise<Response> {
    const text = await request.text();
    const asked = { method: request.method, path: new URL(request.url).pathname, body: text ? JSON.parse(text) : {} };
    this.asked.push(asked);
    return new Promise((resolve, reject) => this.waiting.push({ asked, resolve, reject }));
  }

  get open() {
    return this.waiting.length;
  }

  /** Answers all requests that wait, each by what it asks for. */
  answerEach(body: (path: string) => unknown) {
    while (this.waiting[0]) this.answer({ status: 200, body: body(this.waiting[0].asked.path) });
  }

  /** Answers the oldest request that waits. */
  answer(answer: Answer) {
    const next = this.waiting.shift();
    if (!next) throw new Error('Nothing was asked.');
    if (answer === 'unreachable') next.reject(new TypeError('Failed to fetch'));
    else
      next.resolve(new Response(JSON.stringify(answer.body), { status: answer.status, headers: { 'content-type': 'application/json' } }));
  }
}
