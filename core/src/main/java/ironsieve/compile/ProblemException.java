package ironsieve.compile;

import java.util.List;
import java.util.stream.Collectors;

/** Thrown when a rulebase with {@link Problem}s is compiled. */
public final class ProblemException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  private final transient List<Problem> problems;

  /** At least one problem. */
  public ProblemException(List<Problem> problems) {
    super(
        problems.stream()
            .map(p -> p.place() + " " + p.id() + ": " + p.message())
            .collect(Collectors.joining("; ")));
    this.problems = List.copyOf(problems);
  }

  public List<Problem> problems() {
    return problems;
  }
}
