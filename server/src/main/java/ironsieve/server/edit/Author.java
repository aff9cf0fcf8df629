package ironsieve.server.edit;

import ironsieve.files.FaultException;
import org.eclipse.microprofile.config.ConfigProvider;

/**
 * Who makes an edit, and why.
 *
 * @param name who
 * @param reason a reason or the reference of a change; may be empty unless the setting
 *     iron-sieve.reason is {@code required}
 */
public record Author(String name, String reason) {

  private static final boolean REQUIRED =
      ConfigProvider.getConfig()
          .getOptionalValue("iron-sieve.reason", String.class)
          .filter("required"::equals)
          .isPresent();

  /** Somebody who gives no reason. */
  public static Author of(String name) {
    return new Author(name, "");
  }

  /**
   * Does nothing if a reason is given or none is needed.
   *
   * @throws FaultException otherwise
   */
  void demandReason() {
    demandReason(REQUIRED);
  }

  void demandReason(boolean required) {
    if (required && reason.isBlank()) {
      throw new FaultException(
          "edit",
          "reason",
          "every change needs a reason or a change reference here; none was given");
    }
  }
}
