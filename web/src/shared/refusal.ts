import { notifications } from '@mantine/notifications'
import { Refusal } from './api'

/** Says why something was refused, so long that it can be read. */
export function sayRefusal(error: unknown) {
  notifications.show({
    color: 'var(--harm)',
    title: error instanceof Refusal ? error.title : 'Something went wrong',
    message: error instanceof Error ? error.message : String(error),
    autoClose: 12_000,
  })
}
