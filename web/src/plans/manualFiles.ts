// Pages of manuals that the shop keeps for its plans: pictures and PDFs.
import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { Refused, type Problem, type Schemas } from '../api/client'
import { person } from '../ui/preferences'
import { t } from './texts'

const fileUrl = (hash: string) => `/api/manual-files/${hash}`
/** Where a page is shown: of a PDF its page alone, as wide as there is room. */
export const pageUrl = ({ file, page }: Schemas['ManualPage']) =>
  `${fileUrl(file)}#${page ? `page=${page}&` : ''}navpanes=0&view=FitH`

/** Keeps a file; its hash. */
export async function keepManualFile(file: File): Promise<string> {
  const headers = { 'content-type': 'application/octet-stream', 'x-rigore-as': person.value }
  const response = await fetch('/api/manual-files', { method: 'POST', body: file, headers }).catch(() => null)
  if (!response || response.status >= 500) throw new Error(t('plans-no-connection'))
  if (!response.ok) {
    const refused = new Refused((await response.json()) as Problem)
    throw new Error(refused.byField().file ?? refused.message)
  }
  return ((await response.json()) as Schemas['Picture']).hash
}

/** What kind of file it is; empty where the shop has not got it. */
export function useMediaOf(hash: MaybeRefOrGetter<string | undefined>) {
  return useQuery({
    queryKey: ['manual-file', hash],
    enabled: () => !!toValue(hash),
    staleTime: Infinity,
    queryFn: async () => {
      const response = await fetch(fileUrl(toValue(hash)!), { method: 'HEAD' })
      if (!response.ok && response.status !== 404) throw new Error(t('plans-no-connection'))
      return response.ok ? (response.headers.get('content-type') ?? '') : ''
    },
  })
}
