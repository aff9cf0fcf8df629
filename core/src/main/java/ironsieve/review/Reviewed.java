package ironsieve.review;

import java.util.List;
import java.util.stream.Stream;

/**
 * What the review of one rule came to, kept while nothing that concerns it changes. Names
 * connections and no boxes, so that it outlives the space it was found in.
 *
 * @param findings about the rule alone, the worst first
 * @param residue what reaches it
 * @param reached whether anything does
 */
record Reviewed(List<Finding> findings, Residue residue, Reached reached) {

  Reviewed {
    findings = List.copyOf(findings);
  }

  boolean isProvedElsewhere() {
    for (Finding finding : findings) {
      if (isElsewhere(finding.kind()) && !finding.evidence().isEmpty()) {
        return true;
      }
    }
    return false;
  }

  /** Its witnesses that lie outside the rule's claim, where another rule may catch them. */
  Stream<Witness> elsewhere() {
    return findings.stream()
        .filter(finding -> isElsewhere(finding.kind()))
        .flatMap(finding -> finding.evidence().stream())
        .map(Finding.Evidence::witness);
  }

  private static boolean isElsewhere(Finding.Kind kind) {
    return kind == Finding.Kind.BLIND_FEATURE || kind == Finding.Kind.MISSING_DEPENDENCY;
  }

  boolean has(Finding.Kind kind) {
    return findings.stream().anyMatch(finding -> finding.kind() == kind);
  }
}
