package ironsieve.server.edit;

import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.databind.annotation.JsonTypeIdResolver;
import ironsieve.files.FaultException;
import ironsieve.files.SealedNames;
import java.util.Optional;
import java.util.UUID;

/**
 * One step of a change: a record for each thing that can be done, with what it needs. A step is
 * read from JSON, where {@code op} says which it is, and checked as it is made: whoever holds one
 * can take it without looking at its parts again. Immutable.
 *
 * <p>The names of the records are the only place where the kinds are named: a record {@code
 * AddRule} is read where {@code op} says {@code ADD_RULE}.
 */
@JsonTypeInfo(use = JsonTypeInfo.Id.CUSTOM, property = Step.OP)
@JsonTypeIdResolver(SealedNames.class)
public sealed interface Step permits RulebaseStep, WorkspaceStep {

  /** The member that says which step it is. */
  String OP = "op";

  /** What {@code op} says for a record of this name. */
  static String op(String record) {
    return SealedNames.of(record);
  }

  /** An id for something new: a letter and a random number. */
  static String newId(String letter) {
    return letter + UUID.randomUUID();
  }

  /**
   * Demands that a step has what it needs.
   *
   * @throws FaultException if it is missing
   */
  static void demand(Class<? extends Step> step, String field, Object given) {
    if (given == null) {
      String op = op(step.getSimpleName());
      throw new FaultException(
          "step " + op, field, "the step " + op + " needs \"" + field + "\", and it is missing");
    }
  }

  /**
   * Demands that something new has an id that can be written everywhere, or none.
   *
   * @throws FaultException if it has another
   */
  static void demandId(Class<? extends Step> step, Optional<String> id) {
    if (!id.orElse("new").matches("[^\\s\":#;]{1,100}")) {
      throw new FaultException(
          "step " + op(step.getSimpleName()),
          "id",
          "an id is 1 to 100 characters without spaces, quotes, colons or #");
    }
  }
}
