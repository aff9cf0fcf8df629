package ironsieve.traffic.signature;

import ironsieve.text.TextException;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Condition.All;
import ironsieve.traffic.signature.Condition.Any;
import ironsieve.traffic.signature.Condition.Not;
import ironsieve.traffic.signature.Condition.Term;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/**
 * One way in which a signature can hold: all of some terms, and none of others.
 *
 * @param wanted terms that must hold
 * @param unwanted terms that must not
 */
record Clause(List<Term> wanted, List<Term> unwanted) {

  private static final int MOST_CLAUSES = 64;

  Clause {
    wanted = List.copyOf(wanted);
    unwanted = List.copyOf(unwanted);
  }

  /**
   * All ways in which a signature can hold.
   *
   * @throws TextException if there are too many, or one of them asks for nothing that must be there
   */
  static List<Clause> of(Signature signature) {
    List<Clause> clauses = of(signature.condition(), true);
    for (Clause clause : clauses) {
      boolean isHint =
          clause.wanted.stream()
              .allMatch(term -> term.field() == Field.PORT || term.field() == Field.ADDRESS);
      boolean isOpen =
          clause.wanted.stream()
              .noneMatch(term -> term.field().kind() != Field.Kind.NUMBER || isSize(term));
      if (isOpen && isHint && !isProtocolOnly(clause)) {
        throw new TextException(
            0,
            "a signature needs something that a connection shows; ports and addresses are only"
                + " hints, and what must not be there is no sign");
      }
    }
    return clauses;
  }

  private static boolean isSize(Term term) {
    return term.test() instanceof ValueTest.Size;
  }

  /** Protocols without ports are told by their number and by nothing else. */
  private static boolean isProtocolOnly(Clause clause) {
    return clause.wanted.stream()
        .anyMatch(
            term ->
                term.test() instanceof ValueTest.Ports ports
                    && ports.ranges().stream()
                        .allMatch(
                            range -> !ironsieve.model.Service.hasPorts(range.low().protocol())));
  }

  private static List<Clause> of(Condition condition, boolean isWanted) {
    if (condition instanceof Term term) {
      return List.of(
          isWanted ? new Clause(List.of(term), List.of()) : new Clause(List.of(), List.of(term)));
    }
    if (condition instanceof Not not) {
      return of(not.part(), !isWanted);
    }
    List<Condition> parts = condition instanceof All all ? all.parts() : ((Any) condition).parts();
    boolean isProduct = condition instanceof All == isWanted;
    List<Clause> clauses = isProduct ? List.of(new Clause(List.of(), List.of())) : List.of();
    for (Condition part : parts) {
      List<Clause> more = of(part, isWanted);
      clauses = isProduct ? product(clauses, more) : sum(clauses, more);
      if (clauses.size() > MOST_CLAUSES) {
        throw new TextException(
            0,
            "written out, this is more than "
                + MOST_CLAUSES
                + " choices; use lists of values, or several signatures");
      }
    }
    return clauses;
  }

  private static List<Clause> sum(List<Clause> first, List<Clause> second) {
    List<Clause> sum = new ArrayList<>(first);
    sum.addAll(second);
    return sum;
  }

  private static List<Clause> product(List<Clause> first, List<Clause> second) {
    List<Clause> product = new ArrayList<>();
    for (Clause one : first) {
      for (Clause other : second) {
        product.add(one.and(other));
      }
    }
    return product;
  }

  /**
   * The same for each name of the first list of names, so that each has the rank of its own length.
   */
  List<Clause> byName() {
    for (int i = 0; i < wanted.size(); i++) {
      Term term = wanted.get(i);
      List<ValueTest> single = Rank.isNaming(term.field()) ? term.test().single() : List.of();
      if (single.size() > 1) {
        List<Clause> each = new ArrayList<>();
        for (ValueTest one : single) {
          List<Term> terms = new ArrayList<>(wanted);
          terms.set(i, new Term(term.field(), term.header(), one));
          each.add(new Clause(terms, unwanted));
        }
        return each;
      }
    }
    return List.of(this);
  }

  /** Both together. */
  Clause and(Clause other) {
    Set<Term> both = new LinkedHashSet<>(wanted);
    both.addAll(other.wanted);
    Set<Term> neither = new LinkedHashSet<>(unwanted);
    neither.addAll(other.unwanted);
    return new Clause(List.copyOf(both), List.copyOf(neither));
  }

  boolean holds(Unit unit) {
    return wanted.stream().allMatch(term -> term.holds(unit))
        && unwanted.stream().noneMatch(term -> term.holds(unit));
  }
}
