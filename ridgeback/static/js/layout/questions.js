/* Asking the server: at most one question is under way, the newest state is asked next, and an answer to an old one is never painted over a newer. */

export class Questions {
  /* ask(): a promise of an answer; answered(answer): paints it; failed(): says so; settled(): nothing is under way. */
  constructor({ ask, answered, failed, settled }) {
    Object.assign(this, { ask, answered, failed, settled });
    this.busy = false;
    this.wanted = false;
    this.number = 0;
    this.painted = 0;
  }

  get underWay() {
    return this.busy || this.wanted;
  }

  async next() {
    if (this.busy) {
      this.wanted = true;
      return;
    }
    this.busy = true;
    this.wanted = false;
    const mine = ++this.number;
    try {
      const answer = await this.ask();
      if (mine > this.painted) {
        this.painted = mine;
        this.answered(answer);
      }
    } catch {
      this.failed();
    }
    this.busy = false;
    if (this.wanted) {
      this.next();
      return;
    }
    this.settled();
  }
}
