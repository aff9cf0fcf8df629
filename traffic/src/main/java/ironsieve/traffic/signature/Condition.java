package ironsieve.traffic.signature;

import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import java.util.List;
import java.util.stream.Collectors;

/** What must hold for a signature to fit. Immutable; printed and read by {@link SignatureText}. */
public sealed interface Condition {

  /** All of these. */
  record All(List<Condition> parts) implements Condition {
    public All {
      parts = List.copyOf(parts);
    }

    @Override
    public boolean holds(Unit unit) {
      return parts.stream().allMatch(part -> part.holds(unit));
    }

    @Override
    public String toString() {
      return parts.stream()
          .map(part -> part instanceof Any ? "(" + part + ")" : part.toString())
          .collect(Collectors.joining(" and "));
    }
  }

  /** At least one of these. */
  record Any(List<Condition> parts) implements Condition {
    public Any {
      parts = List.copyOf(parts);
    }

    @Override
    public boolean holds(Unit unit) {
      return parts.stream().anyMatch(part -> part.holds(unit));
    }

    @Override
    public String toString() {
      return parts.stream().map(Condition::toString).collect(Collectors.joining(" or "));
    }
  }

  /** Not this, of all that was shown by the end. */
  record Not(Condition part) implements Condition {
    @Override
    public boolean holds(Unit unit) {
      return !part.holds(unit);
    }

    @Override
    public String toString() {
      return "not " + (part instanceof Term ? part.toString() : "(" + part + ")");
    }
  }

  /**
   * One field, and what some value of it must be.
   *
   * @param header which header; empty for every other field
   */
  record Term(Field field, String header, ValueTest test) implements Condition {
    @Override
    public boolean holds(Unit unit) {
      if (field.kind() == Field.Kind.NUMBER) {
        return test.holds(unit.shown());
      }
      return unit.facts().anyMatch(this::holds);
    }

    /** Whether a fact is what is asked for. */
    public boolean holds(Fact fact) {
      return fact.field() == field && fact.header().equals(header) && test.holds(fact.value());
    }

    @Override
    public String toString() {
      String of = header.isEmpty() ? "" : " " + SignatureText.quoted(header);
      return field.word() + of + " " + test;
    }
  }

  /** Whether it holds of a connection, or of one request in it; tried plainly. */
  boolean holds(Unit unit);
}
