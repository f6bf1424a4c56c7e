/** A folder of the person's own computer, checked by the browser. */
import { CheckFolderPage } from "@/ui/check-folder/check-folder-page";

export default function Page() {
  return <CheckFolderPage />;
}
