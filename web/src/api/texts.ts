// Texts that every place shares.
export { t } from '../ui/catalog'
