export const DEMO_CLOCK: string;
export const STAFF_PASSWORD: string;
export const OFFICE_PASSWORD: string;
export const STUDENT_PASSWORD: string;
export const ACCOUNTS: { login: string; password: string; who: string }[];
