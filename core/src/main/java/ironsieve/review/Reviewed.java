package ironsieve.review;

import java.util.List;

/**
 * What the review of one rule came to, kept while nothing that concerns it changes. Names
 * connections and no boxes, so that it outlives the space it was found in.
 *
 * @param findings about the rule alone, the worst first
 * @param residue what reaches it
 * @param reached whether anything does
 */
record Reviewed(List<Finding> findings, Residue residue, RuleReview.Reached reached) {

  Reviewed {
    findings = List.copyOf(findings);
  }

  boolean has(Finding.Kind kind) {
    return findings.stream().anyMatch(finding -> finding.kind() == kind);
  }
}
