/** What was asked for, by whom. */
import { AuditPage } from "@/ui/access/audit-page";

export default function Page() {
  return <AuditPage />;
}
