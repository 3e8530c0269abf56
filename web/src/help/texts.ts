// Texts of this place.
import { textsOf } from '../ui/catalog'

export const t = await textsOf('help')
