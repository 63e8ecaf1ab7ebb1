import { CodeTable, PastedCodes, typedCode } from './CodeTable'
import { Step, type StepOf, Typed } from './Step'

/** What the hub calls how an order was paid and is sent. */
export function Codes({ of }: { of: StepOf }) {
  const { rule, set, met } = of
  return (
    <>
      <Step name="Paid by → payment type" wide>
        <CodeTable
          label="Payment methods"
          met={met?.methods ?? []}
          codes={rule.methods ?? {}}
          set={(methods) => set({ methods })}
          choose={typedCode('Payment type')}
        />
        <div className="row">
          <span>any other</span> <Typed of={of} label="Any other payment method" name="otherMethod" hint="held" />
        </div>
      </Step>
      <Step name="Sent by → shipping code" wide>
        <CodeTable
          label="Shipping methods"
          met={met?.shipping ?? []}
          codes={rule.shippingMethods ?? {}}
          set={(shippingMethods) => set({ shippingMethods })}
          choose={typedCode('Shipping code')}
        />
        <div className="row">
          <span>any other</span> <Typed of={of} label="Any other shipping method" name="otherShipping" hint="held" />
        </div>
        <PastedCodes
          label="Pasted: a line for each, what the store says and the code of the hub"
          codes={rule.shippingMethods ?? {}}
          set={(shippingMethods) => set({ shippingMethods })}
        />
      </Step>
    </>
  )
}
