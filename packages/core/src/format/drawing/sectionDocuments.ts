import { drawingOf } from '../../circuit/drawing/index.js'
import { partTexts } from '../../circuit/drawing/texts.js'
import { SECTION_KINDS } from '../../synthesis/active/families.js'
import { sectionPage } from '../../synthesis/active/sectionPage.js'
import { drawingSvg } from './drawingSvg.js'

/** The pages of docs/theory/sections with their drawings, by file name. */
export function sectionDocuments(): Readonly<Record<string, string>> {
  const kinds = [...SECTION_KINDS].sort((a, b) => a.id.localeCompare(b.id, 'en'))
  const pages = kinds.flatMap((kind): [string, string][] => {
    const { markdown, circuit } = sectionPage(kind)
    const textOf = partTexts(circuit)
    return [
      [`${kind.id}.md`, markdown],
      [`${kind.id}.svg`, drawingSvg(drawingOf(circuit, textOf), textOf)],
    ]
  })
  const index = [
    '# Sections with amplifiers',
    '',
    'One page a section, written by `npm run sections` from what each says of itself (`packages/core/src/synthesis/active/sections`).',
    '',
    '| section | makes | amplifiers |',
    '|---|---|---|',
    ...kinds.map((k) => `| [${k.name}](${k.id}.md) | ${k.makes} | ${k.amplifiers} |`),
    '',
  ].join('\n')
  return Object.fromEntries([['README.md', index], ...pages])
}
