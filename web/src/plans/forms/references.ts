// What a field of a plan can refer to, by name.
import type { Fields, FormContext } from './format'
import { t } from '../texts'

export interface Reference {
  id: string
  name: string
  /** Whether it is one of several that stand for one table. */
  member: boolean
}

/** As many members of a family are offered one by one. */
const OFFERED = 24

/** The joint that a path leads into: `joint[3]`. */
const jointOf = (path: string) => /^joint\[\d+\]/.exec(path)?.[0]

/** Groups of the joint that the form is about or stands in. */
function groups(context: FormContext): Reference[] {
  const { fields, page, path } = context
  const typed = Array.isArray(fields.group) ? (fields.group as Fields[]) : []
  const own = typed.map((group) => ({ id: String(group.id ?? ''), name: String(group.name ?? '') }))
  const of = own.length
    ? own
    : page.tables.filter((row) => row.list === 'group' && row.path.startsWith(`${jointOf(path)}.`))
  return of.filter((group) => group.id).map(({ id, name }) => ({ id, name, member: false }))
}

/** Stages of the joints that an operation works on. */
function stages(context: FormContext, fields: Fields): Reference[] {
  const named = [fields.joint, fields.joints].flat().map(String)
  const of = context.page.joints.filter((joint) =>
    named.some((name) => name === joint.id || name.startsWith(`${joint.id}-`)),
  )
  return [...new Set(of.flatMap((joint) => joint.headings))].map((id) => ({ id, name: id, member: false }))
}

/** Everything of a list, with the members of what stands for several behind it. */
export function referencesOf(context: FormContext, list: string, fields: Fields): Reference[] {
  if (list === 'group') return groups(context)
  if (list === 'stage') return stages(context, fields)
  return context.page.tables
    .filter((row) => row.list === list && row.path !== context.path)
    .flatMap((row) => {
      const all = {
        id: row.id,
        name: row.count > 1 ? t('plans-all-of', { name: row.name, count: row.count }) : row.name,
        member: false,
      }
      const members = row.count > 1 && row.count <= OFFERED ? row.count : 0
      return [
        all,
        ...Array.from({ length: members }, (_, at) => ({
          id: `${row.id}-${at + 1}`,
          name: `${row.name.replace('#', '').trim()} ${at + 1}`,
          member: true,
        })),
      ]
    })
}
