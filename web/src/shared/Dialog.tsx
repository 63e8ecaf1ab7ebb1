import { Modal } from '@mantine/core'
import type { ReactNode } from 'react'

/** A question or a form in front of the page. Its head is no page banner, which is why it is laid out here. */
export function Dialog(props: { title: string; opened: boolean; close: () => void; wide?: boolean; children: ReactNode }) {
  return (
    <Modal.Root opened={props.opened} onClose={props.close} size={props.wide ? 'lg' : 'md'} centered>
      <Modal.Overlay />
      <Modal.Content radius={8}>
        <div className="row" style={{ padding: '14px 16px 0' }}>
          <Modal.Title className="grow strong">{props.title}</Modal.Title>
          <Modal.CloseButton aria-label="Close" />
        </div>
        <Modal.Body pt="sm">{props.children}</Modal.Body>
      </Modal.Content>
    </Modal.Root>
  )
}
