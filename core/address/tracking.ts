const TRACKING =
  /^(?:utm_[a-z_]+|(?:fb|g|gb|ms|tw|yc|dc|li_fat_|mc_e|mc_c|igsh|wbr|gbra)(?:cl)?id|igshid|_ga|_gl|mkt_tok|ref_src)$/i

/** Whether a parameter says where a visitor came from and changes nothing of the page (common practice, no source). */
export const isTracking = (parameter: string): boolean => TRACKING.test(parameter)
