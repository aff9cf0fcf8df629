package ironsieve.traffic.capture;

/**
 * Thrown for a file that is no capture; the message says at which byte, and what would be right.
 */
public final class CaptureException extends RuntimeException {
  private static final long serialVersionUID = 1L;

  CaptureException(String message) {
    super(message);
  }
}
