package ironsieve.review;

import java.util.List;
import java.util.Map;

/**
 * Everything the review has to say about a rulebase.
 *
 * @param findings in the order of the rules, the worst first within each
 * @param residues by rule id, for every rule that takes part
 */
public record Review(List<Finding> findings, Map<String, Residue> residues) {

  public Review {
    findings = List.copyOf(findings);
    residues = Map.copyOf(residues);
  }

  /** All findings, the worst first and those of equal weight in the order of the rules. */
  public List<Finding> worstFirst() {
    return findings.stream().sorted(java.util.Comparator.comparing(Finding::severity)).toList();
  }

  /** The findings about one rule. */
  public List<Finding> of(String rule) {
    return findings.stream().filter(finding -> finding.rule().equals(rule)).toList();
  }
}
