/** The parts of Node that the tests use. The application itself never runs there, so it has no types of it. */
declare module 'node:test' {
  export function test(name: string, run: () => void | Promise<void>): void
}
declare module 'node:assert/strict' {
  export function ok(value: unknown, words?: string): asserts value
  export function equal<T>(found: unknown, wanted: T, words?: string): asserts found is T
  export function deepEqual<T>(found: unknown, wanted: T, words?: string): asserts found is T
  export function match(found: string, wanted: RegExp, words?: string): void
  export function rejects(found: Promise<unknown>, wanted?: object | ((error: unknown) => boolean)): Promise<void>
}
