// Texts of this place.
import { textsOf } from './catalog'

export const t = await textsOf('ui')
