import type { Schemas } from '../../../shared/api'

export const types: { value: Schemas['FieldType']; label: string }[] = [
  { value: 'text', label: 'text' },
  { value: 'html', label: 'HTML' },
  { value: 'integer', label: 'whole number' },
  { value: 'decimal', label: 'number' },
  { value: 'money', label: 'amount' },
  { value: 'percent', label: 'percent' },
  { value: 'boolean', label: 'yes or no' },
  { value: 'date', label: 'date' },
  { value: 'instant', label: 'date and time' },
  { value: 'code', label: 'code' },
  { value: 'weight', label: 'weight' },
  { value: 'length', label: 'length' },
  { value: 'list', label: 'list' },
  { value: 'image', label: 'image' },
  { value: 'reference', label: 'key of another' },
]

const ofItems: [Schemas['FieldRole'], string][] = [
  ['none', 'no meaning'],
  ['sku', 'SKU'],
  ['barcode', 'barcode'],
  ['title', 'title'],
  ['option', 'option'],
  ['description', 'description'],
  ['price', 'price'],
  ['salePrice', 'sale price'],
  ['saleFrom', 'sale from'],
  ['saleTo', 'sale to'],
  ['compareAt', 'struck-through price'],
  ['cost', 'cost'],
  ['taxCode', 'tax code'],
  ['taxRate', 'tax rate'],
  ['onHand', 'on hand'],
  ['tracked', 'stock counted'],
  ['published', 'published'],
  ['weight', 'weight'],
  ['category', 'category'],
  ['partNumber', 'part number'],
  ['brand', 'brand'],
  ['image', 'image'],
  ['moreImages', 'further images'],
]

const ofOthers: Partial<Record<Schemas['RecordKind'], [Schemas['FieldRole'], string][]>> = {
  stockLevel: [
    ['none', 'no meaning'],
    ['item', 'item'],
    ['location', 'location'],
    ['onHand', 'on hand'],
    ['allocated', 'allocated'],
    ['incoming', 'incoming'],
  ],
  customer: [
    ['none', 'no meaning'],
    ['title', 'name'],
    ['email', 'mail address'],
    ['phone', 'telephone'],
    ['company', 'company'],
    ['account', 'account'],
    ['street', 'street'],
    ['postcode', 'postcode'],
    ['city', 'city'],
    ['country', 'country'],
  ],
  order: [
    ['none', 'no meaning'],
    ['number', 'number'],
    ['placedAt', 'placed at'],
    ['state', 'state'],
    ['currency', 'currency'],
    ['taxIncluded', 'tax included'],
    ['paymentState', 'payment state'],
    ['method', 'method'],
    ['email', 'mail address'],
    ['phone', 'telephone'],
    ['account', 'account'],
    ['total', 'total'],
    ['taxTotal', 'tax in it'],
    ['comment', 'comment'],
    ['externalNumber', 'external number'],
    ['acknowledgedAs', 'acknowledged as'],
  ],
}

const ofAddresses: [Schemas['FieldRole'], string][] = [
  ['none', 'no meaning'],
  ['title', 'name'],
  ['company', 'company'],
  ['street', 'street'],
  ['postcode', 'postcode'],
  ['city', 'city'],
  ['country', 'country'],
  ['phone', 'telephone'],
  ['email', 'mail address'],
]

const ofCharges: [Schemas['FieldRole'], string][] = [
  ['none', 'no meaning'],
  ['title', 'title'],
  ['method', 'method'],
  ['code', 'code'],
  ['amount', 'amount'],
  ['taxRate', 'tax rate'],
]

const ofLists: Partial<Record<Schemas['ListRole'], [Schemas['FieldRole'], string][]>> = {
  lines: [
    ['none', 'no meaning'],
    ['line', 'line'],
    ['sku', 'SKU'],
    ['title', 'title'],
    ['quantity', 'quantity'],
    ['price', 'price of one'],
    ['discount', 'discount'],
    ['taxRate', 'tax rate'],
    ['amount', 'amount'],
  ],
  billTo: ofAddresses,
  shipTo: ofAddresses,
  addresses: ofAddresses,
  shipping: ofCharges,
  discounts: ofCharges,
  fees: ofCharges,
  vouchers: ofCharges,
  payments: [
    ['none', 'no meaning'],
    ['key', 'key'],
    ['method', 'method'],
    ['amount', 'amount'],
    ['at', 'paid at'],
  ],
  refunds: [
    ['none', 'no meaning'],
    ['key', 'key'],
    ['amount', 'amount'],
    ['shippingAmount', 'shipping in it'],
    ['at', 'given back at'],
  ],
  refundedLines: [
    ['none', 'no meaning'],
    ['refund', 'refund'],
    ['line', 'line'],
    ['quantity', 'quantity'],
    ['restock', 'put back in stock'],
  ],
  shipments: [
    ['none', 'no meaning'],
    ['key', 'key'],
    ['at', 'sent at'],
    ['carrier', 'carrier'],
    ['tracking', 'tracking number'],
  ],
}

export const listRoles: { value: Schemas['ListRole']; label: string }[] = [
  { value: 'none', label: 'of no meaning' },
  { value: 'lines', label: 'what was ordered' },
  { value: 'billTo', label: 'who is billed' },
  { value: 'shipTo', label: 'where it goes' },
  { value: 'addresses', label: 'addresses' },
  { value: 'shipping', label: 'how it is sent' },
  { value: 'discounts', label: 'discounts on the whole' },
  { value: 'fees', label: 'fees' },
  { value: 'vouchers', label: 'vouchers' },
  { value: 'payments', label: 'payments' },
  { value: 'refunds', label: 'refunds' },
  { value: 'refundedLines', label: 'lines given back' },
  { value: 'shipments', label: 'shipments' },
]

/** What a field of a kind of record may mean; what it means already is always among them. */
export const rolesOf = (kind: Schemas['RecordKind'], now?: Schemas['FieldRole']) => among(ofOthers[kind] ?? ofItems, now)

/** What a field of a list within records may mean. */
export const rolesIn = (list: Schemas['ListRole'], now?: Schemas['FieldRole']) => among(ofLists[list] ?? [['none', 'no meaning']], now)

function among(roles: [Schemas['FieldRole'], string][], now?: Schemas['FieldRole']) {
  const known = roles.some(([r]) => r === now) || !now ? roles : [...roles, [now, now] as const]
  return known.map(([value, label]) => ({ value, label }))
}

export const recordKinds: { value: Schemas['RecordKind']; label: string }[] = [
  { value: 'item', label: 'items' },
  { value: 'stockLevel', label: 'stock levels' },
  { value: 'customer', label: 'customers' },
  { value: 'order', label: 'orders' },
]

export const pagings: { value: Schemas['RestPaging']; label: string }[] = [
  { value: 'none', label: 'in one reply' },
  { value: 'page', label: 'by page number' },
  { value: 'offset', label: 'by entries before it' },
  { value: 'cursor', label: 'by a cursor in the reply' },
  { value: 'link', label: 'by the Link header' },
  { value: 'lastKey', label: 'by the last key' },
]

export const systemKinds: { value: Schemas['SystemKind']; label: string }[] = [
  { value: 'erp', label: 'ERP' },
  { value: 'pointOfSale', label: 'point of sale' },
  { value: 'webStore', label: 'web store' },
  { value: 'marketplace', label: 'marketplace' },
  { value: 'supplier', label: 'supplier' },
]
