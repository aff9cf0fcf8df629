package ironsieve.model;

/**
 * One rule of the list that says whose encrypted content the gateway decrypts. Read from the top,
 * the first line that holds a connection decides; what no line holds stays encrypted.
 *
 * @param id unique in its rulebase
 * @param match which connections; asks for nothing learned later than the host name, so neither
 *     applications nor usual ports
 * @param decision decrypt, or leave encrypted
 * @param note why; may be empty
 */
public record DecryptionRule(String id, Rule.Match match, Decision decision, String note) {

  /** What a rule decides. */
  public enum Decision {
    DECRYPT,
    LEAVE_ENCRYPTED
  }

  public DecryptionRule {
    if (match.field(FieldName.APPLICATIONS).isPresent() || match.ports() == Rule.Ports.USUAL) {
      throw new IllegalArgumentException(
          "a decryption rule cannot ask for applications: content is decrypted before they are known");
    }
  }
}
