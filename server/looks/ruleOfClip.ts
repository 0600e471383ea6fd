/** The rule that holds for a clip: of those that fit it, the nearest. To be joined beside a row called `clip`. */
export const ruleOfClip = `
  LEFT JOIN LATERAL (
    SELECT r.chain, r.scope, r.who, r.at FROM colour_rule r
    WHERE r.production_id = clip.production_id AND (
      (r.scope = 'clip' AND r.key = clip.id::text) OR (r.scope = 'roll' AND r.key = clip.roll) OR (r.scope = 'group' AND r.key = clip.grp) OR r.scope = 'production')
    ORDER BY array_position(ARRAY['clip', 'roll', 'group', 'production'], r.scope) LIMIT 1
  ) rule ON true`;
