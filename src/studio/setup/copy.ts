import { toast } from 'sonner';

export async function copy(text: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(text);
    toast.success('Copied');
  } catch {
    toast.error('The browser does not allow copying here; select the text and copy it by hand');
  }
}
