package ironsieve.files;

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

  public List<Fault> faults() {
    return faults;
  }
}
