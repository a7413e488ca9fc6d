/** What the server hands to loaders and actions along with a request. */
import { createContext } from 'react-router';

/** The nonce that lets this answer's own inline scripts run under the content security policy. */
export const nonceContext = createContext<string>('');
/** Where the request comes from. */
export const addressContext = createContext<string>('');
