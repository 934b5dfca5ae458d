import DOMPurify from 'dompurify'
import MarkdownIt from 'markdown-it'

/** What people write, as it is shown. No HTML of theirs is taken over, and what comes out is cleaned once more. */
const markdown = new MarkdownIt({ html: false, linkify: true, breaks: true })

const MENTION = /^(person|team):\d+$/
const linkOpen = markdown.renderer.rules.link_open
/** A mention is a link to somebody of the workspace: it is shown as a name, and leads nowhere. */
markdown.renderer.rules.link_open = (tokens, at, options, env, self) => {
  const token = tokens[at]
  const href = String(token?.attrGet('href') ?? '')
  if (!token || !MENTION.test(href)) {
    token?.attrSet('rel', 'noopener noreferrer')
    token?.attrSet('target', '_blank')
    return linkOpen ? linkOpen(tokens, at, options, env, self) : self.renderToken(tokens, at, options)
  }
  const close = tokens.slice(at).find((one) => one.type === 'link_close')
  if (close) close.meta = { mention: true }
  return '<b class="mention">@'
}
markdown.renderer.rules.link_close = (tokens, at, options, _env, self) =>
  tokens[at]?.meta?.mention ? '</b>' : self.renderToken(tokens, at, options)

const TAGS = [
  ...['p', 'br', 'b', 'strong', 'em', 's', 'code', 'pre', 'blockquote', 'ul', 'ol', 'li', 'a', 'hr'],
  ...['h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'table', 'thead', 'tbody', 'tr', 'th', 'td'],
]

export const shown = (text: string): string =>
  DOMPurify.sanitize(markdown.render(text), { ALLOWED_TAGS: TAGS, ALLOWED_ATTR: ['href', 'rel', 'target', 'class'] })
