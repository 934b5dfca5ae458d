import type { Schemas } from '@/api/client'

/** What a result says of what was to be shown, in words. */
export const HELD: Record<Schemas['Verdict'], string> = { held: 'It held', failed: 'It failed', unclear: 'Unclear' }
