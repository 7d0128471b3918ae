/** For somebody who is invited to a helper's desk: that, wherever they go. */
import { useMe } from '../people/me'
import { HelperPage } from './HelperPage'

export default function OwnHelperDesk() {
  const { data: me } = useMe()
  return <HelperPage id={me?.reach.desk ?? ''} preview={false} />
}
