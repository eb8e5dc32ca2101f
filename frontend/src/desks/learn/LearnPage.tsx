/** The page of the Learn desk, in place of the stage. */
import { useWorkshop } from '../../state/workshop'
import { ComparePage } from './ComparePage'
import { CouponPage } from './CouponPage'
import { PrinterPage } from './PrinterPage'
import { TrialPage } from './TrialPage'

export function LearnPage() {
  const page = useWorkshop((s) => s.page)
  return (
    <main data-page={page.show} className="absolute inset-0 z-20 overflow-y-auto bg-paper px-6 py-4">
      <div className="mx-auto flex max-w-[1080px] flex-col gap-4">
        {page.show === 'printer' && <PrinterPage />}
        {page.show === 'trial' && <TrialPage key={page.id} id={page.id} />}
        {page.show === 'coupon' && <CouponPage kind={page.kind} />}
        {page.show === 'compare' && <ComparePage from={page.from} to={page.to} />}
      </div>
    </main>
  )
}
