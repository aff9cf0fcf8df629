package ironsieve.files;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;

/**
 * What one gateway is told to put in force.
 *
 * @param gateway its name; another gateway does nothing with it
 * @param delivery grows with each that the gateway is told, so that an old one cannot come again
 * @param release the number of the release
 * @param manifest the digest of its manifest's text
 * @param isBack whether an older release than the one in force is meant
 */
public record Delivery(
    String gateway, long delivery, int release, String manifest, boolean isBack) {

  private static final ObjectMapper JSON = new ObjectMapper();

  /** The text that is signed. */
  public String text() {
    try {
      return JSON.writeValueAsString(this);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Reads what {@link #text} has written.
   *
   * @throws FaultException if it is none
   */
  public static Delivery read(String text) {
    try {
      return JSON.readValue(text, Delivery.class);
    } catch (JsonProcessingException e) {
      throw new FaultException("delivery", "", "it cannot be read");
    }
  }
}
