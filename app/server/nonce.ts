import { createContext } from 'react-router';

/** The nonce that lets this answer's own inline scripts run under the content security policy. */
export const nonceContext = createContext<string>('');
