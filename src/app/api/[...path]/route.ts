export { serve as GET, serve as POST, serve as PUT, serve as DELETE } from '@/server/api/serve';
