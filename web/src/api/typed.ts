/** A value as somebody typed it, and the one that it was typed over: what a conflict is judged by. */
export class Typed {
  constructor(
    readonly value: unknown,
    readonly over: unknown,
  ) {}
}
