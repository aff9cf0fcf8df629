package ironsieve.server.edit;

import ironsieve.files.FaultException;
import ironsieve.text.Nearest;
import ironsieve.text.PlainText;
import java.util.Collection;
import java.util.List;

/** Thrown when something is asked for by a name that there is not; says which come nearest. */
public final class UnknownException extends RuntimeException {

  private static final long serialVersionUID = 1L;
  private static final int MOST_OFFERED = 3;

  private UnknownException(String message) {
    super(message);
  }

  /** There is no such thing among those there are. */
  public static UnknownException of(String what, String name, Collection<String> known) {
    return new UnknownException(words(what, name, known));
  }

  /** The same as a fault of something sent that names it. */
  public static FaultException fault(
      String place, String field, String what, String name, Collection<String> known) {
    return new FaultException(place, field, words(what, name, known));
  }

  private static String words(String what, String name, Collection<String> known) {
    List<String> near = Nearest.to(name, known, MOST_OFFERED);
    return "There is no "
        + what
        + " \""
        + PlainText.visible(name)
        + "\""
        + (near.isEmpty() ? "." : "; did you mean " + String.join(", ", near) + "?");
  }
}
