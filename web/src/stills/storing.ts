/** What a hand has marked in a still, stored soon after it rests; nothing is dropped. */
import { api, got, type Problem, type Schemas } from "../app/api";
import type { Marks } from "./marks";

export type Draft = { title: string; record: Schemas["Record"]; marks: Marks };
export type Still = Schemas["StillOut"];
export type Standing = { waiting: boolean; fault: Problem | null };

/** How long a hand rests before its marks are stored [ms]. */
const REST = 500;

export const draftOf = ({ title, record, marks }: Still): Draft => ({ title, record, marks });

export class Storing {
  private unsent: Draft | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private busy = false;

  constructor(
    private readonly id: number,
    private version: number,
    private readonly tell: (standing: Standing) => void,
  ) {}

  put(draft: Draft) {
    this.unsent = draft;
    this.tell({ waiting: true, fault: null });
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.send(), REST);
  }

  async send(): Promise<void> {
    clearTimeout(this.timer);
    if (this.busy || !this.unsent) return;
    const body = this.unsent;
    this.unsent = null;
    this.busy = true;
    let fault: Problem | null = null;
    try {
      const stored = await got<Still>(
        api.PUT("/api/stills/{pk}", {
          params: { path: { pk: this.id } },
          body: { ...body, version: this.version },
          // It is sent even while the page goes.
          keepalive: true,
        }),
      );
      this.version = stored.version;
    } catch (error) {
      // It stays, and is sent again with the next change or when it is asked for.
      fault = error as Problem;
      this.unsent ??= body;
    }
    this.busy = false;
    if (!fault && this.unsent) return this.send();
    this.tell({ waiting: this.unsent !== null, fault });
  }

  /** Leave what waits and go on from what is stored. */
  leave(version: number) {
    clearTimeout(this.timer);
    this.unsent = null;
    this.version = version;
    this.tell({ waiting: false, fault: null });
  }
}
