export { serve as GET } from '@/server/api/serve';
