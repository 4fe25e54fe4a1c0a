import type { Outline } from '../outline/outline'
import type { Assembly } from '../solid/assembly'
import type { Solid } from '../solid/solid'

/** What goes through a route. Another kind of value is one line here and one below. */
export type Value = Outline | Solid | Assembly
export type ValueKind = Value['kind']

/** How values are spoken of. */
export const VALUE_WORDS: Readonly<Record<ValueKind, { readonly one: string; readonly name: string }>> = {
  outline: { one: 'an outline', name: 'outline' },
  solid: { one: 'a solid', name: 'solid' },
  assembly: { one: 'an assembly of copies', name: 'assembly' },
}

/** “an outline or a solid”. An assembly goes without saying where a solid is named, which it serves as. */
export const oneOf = (kinds: readonly ValueKind[]): string =>
  kinds
    .filter((kind) => kind !== 'assembly' || !kinds.includes('solid'))
    .map((kind) => VALUE_WORDS[kind].one)
    .join(' or ')

/**
 * Whether a value of one kind serves where one of these is wanted: a solid may be an assembly, whose copies are made one solid for whoever needs that
 * (see repeat/united.ts).
 */
export const serves = (given: ValueKind, wanted: readonly ValueKind[]): boolean => wanted.includes(given) || (given === 'assembly' && wanted.includes('solid'))
