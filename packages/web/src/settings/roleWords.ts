/** What people read of the roles of clips. */
export const roleWords = { performance: 'Performance', clean: 'Clean plate', element: 'Element', reference: 'Reference' } as const;
