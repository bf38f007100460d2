// @vitest-environment node
import { readdirSync, readFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { parse, type SFCTemplateBlock } from '@vue/compiler-sfc'
import ts from 'typescript'
import { describe, expect, it } from 'vitest'

const src = join(__dirname, '..')
const files = (dir: string): string[] =>
  readdirSync(dir, { withFileTypes: true }).flatMap((f) =>
    f.isDirectory() ? files(join(dir, f.name)) : [join(dir, f.name)],
  )

type Node = NonNullable<SFCTemplateBlock['ast']>['children'][number]

/** Names, commands and addresses, which no translator touches. */
const sameEverywhere = /^(Braxel|psi|bar|kPa|braxel [a-z]+( --[a-z-]+)*|--[a-z-]+|https?:.*|\/media\/.*)$/
const isWord = (text: string) => /[A-Za-z]{3,}/.test(text) && !sameEverywhere.test(text.trim())

/** The attributes of a component that are read, by eye or by ear. */
const read = new Set(['label', 'title', 'aria-label', 'placeholder', 'heading', 'words', 'alt', 'hint', 'note'])

/** The texts that an expression may come to: literals that nothing compares and that are handed to no function. */
function outcomes(code: string): string[] {
  const found: string[] = []
  const visit = (n: ts.Node): void => {
    if (ts.isParenthesizedExpression(n) || ts.isNonNullExpression(n)) return visit(n.expression)
    if (ts.isConditionalExpression(n)) return [n.whenTrue, n.whenFalse].forEach(visit)
    if (ts.isBinaryExpression(n) && /^(\|\||\?\?|&&|\+)$/.test(n.operatorToken.getText()))
      return [n.left, n.right].forEach(visit)
    if (ts.isStringLiteralLike(n)) found.push(n.text)
    if (ts.isTemplateExpression(n)) {
      found.push(n.head.text)
      for (const s of n.templateSpans) {
        visit(s.expression)
        found.push(s.literal.text)
      }
    }
    if (
      ts.isCallExpression(n) &&
      n.expression.getText() === 'says' &&
      n.arguments[1] &&
      ts.isObjectLiteralExpression(n.arguments[1])
    )
      for (const p of n.arguments[1].properties) if (ts.isPropertyAssignment(p)) visit(p.initializer)
  }
  const whole = ts.createSourceFile('x.ts', `(${code})`, ts.ScriptTarget.Latest, true)
  whole.statements.forEach((s) => ts.isExpressionStatement(s) && visit(s.expression))
  return found.filter(isWord)
}

function inTemplate(node: Node): string[] {
  if (node.type === 2) return isWord(node.content) ? [node.content.trim()] : []
  if (node.type === 5) return outcomes(node.content.loc.source)
  if (node.type !== 1) return []
  const own = node.props.flatMap((a) => {
    if (a.type === 6) return read.has(a.name) && a.value && isWord(a.value.content) ? [a.value.content] : []
    const name = a.arg?.type === 4 ? a.arg.content : ''
    return a.name === 'bind' && read.has(name) && a.exp ? outcomes(a.exp.loc.source) : []
  })
  return [...own, ...node.children.flatMap((c) => inTemplate(c as Node))]
}

/** What a script gives a component to show: the words, title or label of a row. */
const shown = new Set(['words', 'title', 'label', 'heading', 'does'])

function inScript(code: string): string[] {
  const found: string[] = []
  const visit = (n: ts.Node): void => {
    if (ts.isPropertyAssignment(n) && shown.has(n.name.getText())) found.push(...outcomes(n.initializer.getText()))
    ts.forEachChild(n, visit)
  }
  visit(ts.createSourceFile('x.ts', code, ts.ScriptTarget.Latest, true))
  return found
}

/** Ids that are put together: the text around the part that varies. */
const partsOf = (text: string): RegExp[] =>
  [...text.matchAll(/says\(`([^`]*)`/g)].map((m) => new RegExp(`^${m[1]!.replace(/\$\{[^}]*\}/g, '.*')}$`))

describe('what people read on a page', () => {
  const code = files(src).filter((f) => /\.(vue|ts)$/.test(f) && !/\.(spec|gen|d)\.ts$/.test(f))
  it.each(code.map((f) => relative(src, f)))('%s keeps its words in words/en', (file) => {
    const text = readFileSync(join(src, file), 'utf8')
    if (!file.endsWith('.vue')) return expect(inScript(text)).toEqual([])
    const { template, scriptSetup } = parse(text).descriptor
    const spoken = template?.ast?.children.flatMap((c) => inTemplate(c as Node)) ?? []
    expect([...spoken, ...inScript(scriptSetup?.content ?? '')]).toEqual([])
  })

  const words = files(join(src, 'words/en')).filter((f) => !f.endsWith('values.json')) // held to its type
  it.each(words.map((f) => relative(src, f)))('%s has no label that no page says', (file) => {
    const users = code.map((f) => readFileSync(f, 'utf8')).filter((text) => text.includes(`@/${file}'`))
    const said = (id: string) => users.some((text) => text.includes(`'${id}'`) || partsOf(text).some((r) => r.test(id)))
    expect(Object.keys(JSON.parse(readFileSync(join(src, file), 'utf8')) as object).filter((id) => !said(id))).toEqual(
      [],
    )
  })
})
