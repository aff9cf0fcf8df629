package ironsieve.traffic.signature;

import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Condition.Term;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * All signatures as one matcher. Each term stands in it once, however many signatures ask for it.
 * What a connection shows is looked up field by field – names, texts and bytes in tries,
 * expressions only where letters of theirs were seen – and of the ways a signature can hold only
 * those are looked at of which the rarest term was found. So the work grows with what a connection
 * shows and hardly with how many signatures there are.
 */
public final class SignatureMatcher {

  private final List<Way> ways = new ArrayList<>();
  private final Map<Term, Integer> terms = new LinkedHashMap<>();
  private final Map<Field, Map<String, FieldIndex>> texts = new EnumMap<>(Field.class);
  private final Segments<Integer> ports = new Segments<>(port -> port + 1, Integer.MAX_VALUE);
  private final Segments<Address> addresses =
      new Segments<>(Line.ADDRESSES::after, Address.last(Address.Version.V6));
  private final Map<Integer, Segments<Integer>> sizes = new HashMap<>();
  private int[][] waysOf;
  private final Map<String, Set<String>> ridesOn;

  /**
   * One way in which a signature, or a feature's together with its application's, can hold.
   *
   * @param feature the feature's signature; nothing where it is the application's own
   * @param rank of the application's part
   * @param featureRank of the feature's part
   */
  private record Way(
      Signature application,
      Optional<Signature> feature,
      Rank rank,
      Rank featureRank,
      Clause clause,
      int[] wanted,
      int[] unwanted) {}

  /**
   * What was recognised.
   *
   * @param signature by which the application was; the feature's where it has no other
   * @param featureSignature by which the feature was, if one was
   * @param why the facts that these asked for
   */
  public record Match(Signature signature, Optional<Signature> featureSignature, List<Fact> why) {

    public String application() {
      return signature.application();
    }

    public Optional<String> feature() {
      return featureSignature.flatMap(Signature::feature);
    }
  }

  /**
   * Compiles signatures.
   *
   * @param ridesOn for each application the carriers it is seen inside; it goes before them
   */
  public SignatureMatcher(List<Signature> signatures, Map<String, Set<String>> ridesOn) {
    this.ridesOn = Map.copyOf(ridesOn);
    Map<String, List<Signature>> byApplication = new LinkedHashMap<>();
    signatures.forEach(
        one -> byApplication.computeIfAbsent(one.application(), a -> new ArrayList<>()).add(one));
    List<Draft> drafts = new ArrayList<>();
    byApplication.values().forEach(own -> drafts.addAll(drafts(own)));
    for (Draft draft : drafts) {
      draft.clause.wanted().forEach(this::number);
      draft.clause.unwanted().forEach(this::number);
    }
    for (Draft draft : drafts) {
      ways.add(
          new Way(
              draft.application,
              draft.feature,
              draft.rank,
              draft.featureRank,
              draft.clause,
              draft.clause.wanted().stream().mapToInt(terms::get).distinct().toArray(),
              draft.clause.unwanted().stream().mapToInt(terms::get).distinct().toArray()));
    }
    index();
    link();
  }

  private record Draft(
      Signature application,
      Optional<Signature> feature,
      Rank rank,
      Rank featureRank,
      Clause clause) {}

  private static List<Draft> drafts(List<Signature> signatures) {
    List<Draft> own = new ArrayList<>();
    for (Signature signature : signatures) {
      if (signature.feature().isEmpty()) {
        for (Clause clause : split(signature)) {
          Rank rank = Rank.of(signature.isOwn(), clause);
          own.add(new Draft(signature, Optional.empty(), rank, rank, clause));
        }
      }
    }
    List<Draft> all = new ArrayList<>(own);
    for (Signature signature : signatures) {
      if (signature.feature().isPresent()) {
        for (Clause clause : split(signature)) {
          Rank rank = Rank.of(signature.isOwn(), clause);
          if (own.isEmpty()) {
            all.add(new Draft(signature, Optional.of(signature), rank, rank, clause));
          }
          for (Draft application : own) {
            all.add(
                new Draft(
                    application.application,
                    Optional.of(signature),
                    application.rank,
                    rank,
                    application.clause.and(clause)));
          }
        }
      }
    }
    return all;
  }

  private static List<Clause> split(Signature signature) {
    return Clause.of(signature).stream().flatMap(clause -> clause.byName().stream()).toList();
  }

  private void number(Term term) {
    terms.putIfAbsent(term, terms.size());
  }

  private void index() {
    terms.forEach(
        (term, number) -> {
          if (term.test() instanceof ValueTest.Ports test) {
            test.ranges()
                .forEach(range -> ports.add(range.low().number(), range.high().number(), number));
          } else if (term.test() instanceof ValueTest.Networks test) {
            test.ranges().forEach(range -> addresses.add(range.low(), range.high(), number));
          } else if (term.test() instanceof ValueTest.Size test) {
            sizes
                .computeIfAbsent(
                    test.number() * (test.byClient() ? 1 : -1),
                    which -> new Segments<>(size -> size + 1, Integer.MAX_VALUE))
                .add(test.low(), test.high(), number);
          } else {
            texts
                .computeIfAbsent(term.field(), field -> new HashMap<>())
                .computeIfAbsent(term.header(), header -> new FieldIndex())
                .add(term.test(), number);
          }
        });
    ports.link();
    addresses.link();
    sizes.values().forEach(Segments::link);
    texts.values().forEach(headers -> headers.values().forEach(FieldIndex::link));
  }

  /** Puts each way under the one of its terms that the fewest ways ask for. */
  private void link() {
    Term[] all = terms.keySet().toArray(new Term[0]);
    int[] asked = new int[all.length];
    for (Way way : ways) {
      for (int term : way.wanted) {
        asked[term]++;
      }
    }
    List<List<Integer>> under = new ArrayList<>();
    for (int i = 0; i < all.length; i++) {
      under.add(new ArrayList<>(0));
    }
    for (int i = 0; i < ways.size(); i++) {
      int key = -1;
      for (int term : ways.get(i).wanted) {
        if (key < 0 || isRarer(all, asked, term, key)) {
          key = term;
        }
      }
      under.get(key).add(i);
    }
    waysOf =
        under.stream()
            .map(list -> list.stream().mapToInt(Integer::intValue).toArray())
            .toArray(int[][]::new);
  }

  /**
   * Ports are shown by every connection, so a way lies under one only where it has no other term.
   */
  private static boolean isRarer(Term[] all, int[] asked, int term, int than) {
    boolean isHint = all[term].field().stage() == Field.Stage.FIRST_PACKET;
    boolean isOtherHint = all[than].field().stage() == Field.Stage.FIRST_PACKET;
    return isHint == isOtherHint ? asked[term] < asked[than] : !isHint;
  }

  /** Whether any signature asks what is answered to a request. */
  public boolean asksAnswers() {
    return terms.keySet().stream()
        .anyMatch(term -> term.field() == Field.STATUS || term.field() == Field.CONTENT_TYPE);
  }

  /** A run of the matcher, for one thread. */
  public Run run() {
    return new Run();
  }

  /** Holds connections against the signatures, one after the other. */
  public final class Run {
    // A term was found if it has the number of the connection, or of the request.
    private final int[] foundAt = new int[terms.size()];
    private int now;
    private int connection;
    private int request;
    private final IntRow ofConnection = new IntRow();
    private final IntRow ofRequest = new IntRow();

    private Run() {}

    /**
     * What a connection is, for each unit of it in the order of {@link Unit#of}.
     *
     * @return for each unit what was recognised: nothing, one application, or several features of
     *     one where the first bytes show several
     */
    public List<List<Match>> identify(ConnectionFacts shown) {
      List<Unit> units = Unit.of(shown);
      begin(shown);
      List<List<Match>> matches = new ArrayList<>(units.size());
      for (Unit unit : units) {
        matches.add(best(unit, fitting(unit)));
      }
      return matches;
    }

    /** What one unit is. */
    public List<Match> one(Unit unit) {
      begin(unit.shown());
      return best(unit, fitting(unit));
    }

    /** Every signature that holds of a unit, most specific first; without those of features. */
    public List<Match> all(Unit unit) {
      begin(unit.shown());
      List<Way> fitting = fitting(unit);
      Map<String, Way> best = new LinkedHashMap<>();
      fitting.stream()
          .sorted(Comparator.comparing(Way::rank).reversed())
          .forEach(way -> best.putIfAbsent(way.application.application(), way));
      return best.values().stream().flatMap(way -> matches(unit, fitting, way).stream()).toList();
    }

    private void begin(ConnectionFacts shown) {
      connection = ++now;
      ofConnection.clear();
      for (Fact fact : shown.facts()) {
        find(fact, connection, ofConnection);
      }
      ports.at(shown.service().number(), number -> found(number, connection, ofConnection));
      addresses.at(shown.server(), number -> found(number, connection, ofConnection));
      sizes.forEach(
          (which, segments) -> {
            int size = shown.size(which > 0, Math.abs(which));
            if (size >= 0) {
              segments.at(size, number -> found(number, connection, ofConnection));
            }
          });
    }

    private List<Way> fitting(Unit unit) {
      request = ++now;
      ofRequest.clear();
      for (Fact fact : unit.request()) {
        find(fact, request, ofRequest);
      }
      List<Way> fitting = new ArrayList<>(2);
      add(ofConnection, fitting);
      add(ofRequest, fitting);
      return fitting;
    }

    private void find(Fact fact, int at, IntRow row) {
      Map<String, FieldIndex> headers = texts.get(fact.field());
      FieldIndex index = headers == null ? null : headers.get(fact.header());
      if (index != null) {
        index.find(fact.value(), number -> found(number, at, row));
      }
    }

    private void found(int number, int at, IntRow row) {
      if (foundAt[number] != at && foundAt[number] != connection) {
        foundAt[number] = at;
        row.add(number);
      }
    }

    private void add(IntRow found, List<Way> fitting) {
      for (int i = 0; i < found.size; i++) {
        for (int number : waysOf[found.numbers[i]]) {
          Way way = ways.get(number);
          if (holds(way)) {
            fitting.add(way);
          }
        }
      }
    }

    private boolean holds(Way way) {
      for (int term : way.wanted) {
        if (!isFound(term)) {
          return false;
        }
      }
      for (int term : way.unwanted) {
        if (isFound(term)) {
          return false;
        }
      }
      return true;
    }

    private boolean isFound(int term) {
      return foundAt[term] == connection || foundAt[term] == request;
    }

    private List<Match> best(Unit unit, List<Way> fitting) {
      if (fitting.isEmpty()) {
        return List.of();
      }
      Set<String> names = new HashSet<>();
      fitting.forEach(way -> names.add(way.application.application()));
      Set<String> below = new HashSet<>();
      names.forEach(name -> below.addAll(ridesOn.getOrDefault(name, Set.of())));
      Stream<Way> candidates =
          fitting.stream().filter(way -> !below.contains(way.application.application()));
      return candidates
          .max(
              Comparator.comparing((Way way) -> way.rank.isOwn())
                  .thenComparing(way -> way.rank.strength())
                  .thenComparing(way -> isOutermost(unit, way))
                  .thenComparing(Way::rank)
                  .thenComparing(way -> way.application.application(), Comparator.reverseOrder()))
          .map(way -> matches(unit, fitting, way))
          .orElse(List.of());
    }

    /** Where nothing but protocols is recognised, it is the one that the others are inside of. */
    private boolean isOutermost(Unit unit, Way way) {
      return way.rank.strength() == 1
          && unit.shown().layers().stream()
              .findFirst()
              .filter(way.application.application()::equals)
              .isPresent();
    }

    /** The application with its feature; a request is about one, first bytes may be about more. */
    private List<Match> matches(Unit unit, List<Way> fitting, Way application) {
      List<Way> features =
          fitting.stream()
              .filter(way -> way.feature.isPresent())
              .filter(
                  way ->
                      way.application.application().equals(application.application.application()))
              .sorted(
                  Comparator.comparing(Way::featureRank)
                      .reversed()
                      .thenComparing(way -> way.feature.get().recognises()))
              .toList();
      if (features.isEmpty()) {
        return List.of(match(unit, application, Optional.empty()));
      }
      if (!unit.request().isEmpty()) {
        return List.of(match(unit, application, Optional.of(features.get(0))));
      }
      Map<String, Way> each = new LinkedHashMap<>();
      features.forEach(way -> each.putIfAbsent(way.feature.get().recognises(), way));
      return each.values().stream().map(way -> match(unit, application, Optional.of(way))).toList();
    }

    private Match match(Unit unit, Way application, Optional<Way> feature) {
      Set<Term> asked = new java.util.LinkedHashSet<>(application.clause.wanted());
      feature.ifPresent(way -> asked.addAll(way.clause.wanted()));
      return new Match(
          application.application,
          feature.flatMap(Way::feature),
          unit.facts().filter(fact -> asked.stream().anyMatch(term -> term.holds(fact))).toList());
    }
  }

  /** Numbers one after the other. */
  private static final class IntRow {
    private int[] numbers = new int[16];
    private int size;

    private void clear() {
      size = 0;
    }

    private void add(int number) {
      if (size == numbers.length) {
        numbers = java.util.Arrays.copyOf(numbers, 2 * size);
      }
      numbers[size++] = number;
    }
  }
}
