package ironsieve.files;

import ironsieve.text.PlainText;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Thrown when something sent cannot be accepted; becomes a problem document that names each field.
 */
public final class FaultException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  private final transient List<Fault> faults;

  /** At least one fault. */
  public FaultException(List<Fault> faults) {
    super(
        faults.stream()
            .map(fault -> fault.place() + ": " + fault.message())
            .collect(Collectors.joining("; ")));
    this.faults = List.copyOf(faults);
  }

  /** One fault. */
  public FaultException(String place, String field, String message) {
    this(List.of(new Fault(place, field, message)));
  }

  /**
   * Does nothing where a text is a name as all names are.
   *
   * @param most characters it may have
   * @throws FaultException saying at this place and field what is wrong with it
   */
  public static void demandName(String place, String field, String name, int most) {
    PlainText.nameProblem(name, most)
        .ifPresent(
            problem -> {
              throw new FaultException(place, field, problem);
            });
  }

  public List<Fault> faults() {
    return faults;
  }
}
