/* States that can be gone back to, as text. */

export class History {
  constructor() {
    this.past = [];
    this.future = [];
  }

  /* A state that is about to be left for a new one: what was undone cannot be done again. */
  remember(text) {
    this.past.push(text);
    this.future = [];
  }

  /* The state before, or null; the present one can be had again. */
  undo(present) {
    if (!this.past.length) return null;
    this.future.push(present);
    return this.past.pop();
  }

  redo(present) {
    if (!this.future.length) return null;
    this.past.push(present);
    return this.future.pop();
  }
}
