import { useMutation } from '@tanstack/react-query'
import { api, type Schemas, take } from '../../../shared/api'
import { asText, type Described, type Description, type Evidence, evidenceOf, type Resource } from './description'
import type { Secret } from './SignIn'

/** What is sent as credential; null: there is none. */
export const credentialOf = (secret: Secret) =>
  secret.secret || secret.grant ? { user: secret.user || null, secret: secret.secret, grant: secret.grant ?? null } : null

/** What speaks for the fields of a proposal. */
export const evidenceIn = (proposal: Schemas['ResourceProposal']): Evidence =>
  Object.fromEntries(proposal.fields.map((f) => [evidenceOf(proposal.resource.kind, f.path), { values: f.values, reasons: f.reasons }]))

export function useProposeList(description: Description, secret: Secret) {
  return useMutation({
    mutationFn: (asked: { list: Schemas['RestList']; known?: Resource; reply?: string }) =>
      take(
        api.POST('/api/systems/propose/list', {
          body: {
            address: description.address,
            authentication: description.authentication,
            credential: credentialOf(secret),
            list: asked.list,
            known: asked.known ?? null,
            reply: asked.reply ?? null,
          },
        }),
      ),
  })
}

export function useProposeInside(description: Description, secret: Secret, resource: Resource) {
  return useMutation({
    mutationFn: (inside: Schemas['RestChildren']) =>
      take(
        api.POST('/api/systems/propose/inside', {
          body: {
            address: description.address,
            authentication: description.authentication,
            credential: credentialOf(secret),
            replies: description.replies,
            resource,
            inside,
          },
        }),
      ),
  })
}

export function useProposeContract() {
  return useMutation({
    mutationFn: (from: { text?: string; address?: string }) =>
      take(api.POST('/api/systems/propose/contract', { body: { text: from.text ?? null, address: from.address ?? null } })),
  })
}

export function usePeek(description: Description, secret: Secret) {
  return useMutation({
    mutationFn: (kind: Schemas['RecordKind']) =>
      take(
        api.POST('/api/systems/peek', {
          body: { document: asText(complete(description)), address: description.address, credential: credentialOf(secret), kind },
        }),
      ),
  })
}

export function useTrial(description: Description, secret: Secret, kind: Schemas['RecordKind']) {
  return useMutation({
    mutationFn: (write: { key: string; field: string; value: string; showOnly: boolean }) =>
      take(
        api.POST('/api/systems/trial', {
          body: {
            ...write,
            document: asText(complete(description)),
            address: description.address,
            credential: credentialOf(secret),
            kind,
          },
        }),
      ),
  })
}

/** A list can be tried before its system has a name. */
export const complete = <D extends Described>(description: D): D => ({
  ...description,
  name: description.name || 'The system',
  mark: description.mark.length === 2 ? description.mark : '??',
})
