package ironsieve.server.edit;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.ProblemException;
import ironsieve.decide.Decider;
import ironsieve.decide.PromiseCheck;
import ironsieve.files.Contents;
import ironsieve.files.DocumentReader;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Fault;
import ironsieve.files.FaultException;
import ironsieve.files.TolerantReading;
import ironsieve.model.Environment;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.progress.Progress;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.review.Budget;
import ironsieve.review.Review;
import ironsieve.review.Reviewer;
import ironsieve.server.jobs.Once;
import ironsieve.server.store.State;
import ironsieve.text.ProbeText;
import ironsieve.traffic.view.TrafficView;
import java.lang.ref.SoftReference;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import org.eclipse.microprofile.config.ConfigProvider;

/**
 * One state of a rulebase with everything worked out from it. Compiling and reviewing happen once,
 * when first asked for, and whoever asks meanwhile waits for the same; a snapshot can always be
 * made again from the database. What cannot be read of it takes no part and is told.
 */
public final class RulebaseSnapshot {

  /**
   * What the reviews may spend where nothing else is set; the setting is iron-sieve.review.steps.
   */
  private static final Budget USUAL =
      ConfigProvider.getConfig()
          .getOptionalValue("iron-sieve.review.steps", Integer.class)
          .map(Budget.USUAL::searching)
          .orElse(Budget.USUAL);

  /**
   * As many edits may follow each other before a review: going through them one by one is quicker
   * than a whole review, and as many snapshots are kept alive.
   */
  private static final int MOST_BEHIND = 20;

  /** A rule's document, the rule, its claim, and what the review says of it; measured. */
  private static final long BYTES_OF_A_RULE = 6_000;

  private final State state;
  private final Contents contents;
  private final Environment environment;
  private final Recorded recorded;
  private final Budget budget;
  private final Once<Compiled> compiled = new Once<>();
  private final Once<Review> review = new Once<>();

  /** The review of the same rules beside other recorded traffic; with this one's it is theirs. */
  private volatile Review besideOther;

  private final Once<List<PromiseCheck>> promises = new Once<>();
  private final Once<RecordedDecisions> decisions = new Once<>();
  private volatile SoftReference<TrafficView> trafficView = new SoftReference<>(null);
  private volatile RulebaseSnapshot origin;
  private volatile CompiledEdit edit;
  private int behind;
  private volatile Progress progress;
  private volatile boolean stopped;

  /**
   * What compiling leads to.
   *
   * @param read the rules that could be read, with what they were read from
   * @param faults what cannot be read
   */
  private record Compiled(CompiledRulebase rulebase, Readings read, List<Fault> faults) {}

  RulebaseSnapshot(
      State state, Contents contents, Environment environment, Recorded recorded, Budget budget) {
    this.state = state;
    this.contents = contents;
    this.environment = environment;
    this.recorded = recorded;
    this.budget = budget;
  }

  /**
   * What a review may spend that may take so many steps for each question; 0 for as many as usual.
   */
  static Budget budget(int steps) {
    return steps == 0 ? USUAL : USUAL.searching(steps);
  }

  /**
   * This snapshot beside other recorded traffic, or with another budget; nothing is compiled again,
   * and reviewed only where the budget is another one.
   *
   * @param other differs from this one's state in tapes and budget only
   */
  RulebaseSnapshot beside(State other, Recorded traffic) {
    RulebaseSnapshot same =
        new RulebaseSnapshot(other, contents, environment, traffic, budget(other.steps()));
    same.compiled.set(everything());
    if (same.budget.equals(budget)) {
      Review known = review.known().orElse(null);
      if (traffic == recorded) {
        review.known().ifPresent(same.review::set);
        same.besideOther = besideOther;
      } else {
        same.besideOther = known == null ? besideOther : known;
      }
      same.origin = origin;
      same.edit = edit;
    }
    return same;
  }

  /** This snapshot beside the traffic of another one, and reviewed with its budget. */
  public RulebaseSnapshot besideTrafficOf(RulebaseSnapshot other) {
    return beside(other.state.at(revision()), other.recorded);
  }

  /** What the review may spend on each rule. */
  public Budget budget() {
    return budget;
  }

  /** The traffic that was recorded where this rulebase is in force. */
  public Recorded recorded() {
    return recorded;
  }

  /**
   * What this rulebase would do with each recorded connection; worked out when first asked for, and
   * after an edit only of what the edit concerns.
   */
  public RecordedDecisions decisions() {
    return decisions.get(this::decide);
  }

  private RecordedDecisions decide() {
    RulebaseSnapshot before = origin;
    CompiledEdit made = edit;
    Optional<Review> reviewed = review.known();
    if (reviewed.isPresent()) {
      return reviewed.get().recorded();
    }
    return before != null && made != null && before.recorded == recorded
        ? before.decisions().after(made)
        : RecordedDecisions.of(compiled(), recorded.traffic());
  }

  /**
   * What recorded traffic consists of; remembers what it has added up for as long as there is room.
   */
  public TrafficView trafficView() {
    TrafficView known = trafficView.get();
    if (known == null) {
      known = new TrafficView(environment, decisions());
      trafficView = new SoftReference<>(known);
    }
    return known;
  }

  /**
   * What an edit makes of this snapshot, for somebody who may lose patience; compiled at once,
   * beside whatever else is asked of this one.
   *
   * @throws FaultException naming everything that cannot be read and could be before, names that
   *     stood for something or were not there before included
   * @throws CancellationException soon after {@code waiting} is stopped
   */
  RulebaseSnapshot followedBy(State nextState, Contents after, Progress waiting) {
    return followedBy(nextState, after, waiting, CompiledEdit::of);
  }

  /**
   * What follows this snapshot where nobody chose the words anew: an edit that was accepted
   * elsewhere, or something taken back. Names in it may stand for nothing.
   *
   * @throws FaultException naming everything else that cannot be read and could be before
   * @throws CancellationException soon after {@code waiting} is stopped
   */
  RulebaseSnapshot followedAsFarAsKnown(State nextState, Contents after, Progress waiting) {
    return followedBy(nextState, after, waiting, CompiledEdit::asFarAsKnown);
  }

  /** How an edit is compiled. */
  private interface Compiling {
    CompiledEdit of(CompiledRulebase before, Rulebase next, Progress waiting);
  }

  private RulebaseSnapshot followedBy(
      State nextState, Contents after, Progress waiting, Compiling compiling) {
    RulebaseSnapshot next = new RulebaseSnapshot(nextState, after, environment, recorded, budget);
    Compiled base = everything();
    List<Fault> faults = List.of();
    Readings read = base.read();
    try {
      Reading reading = next.reading(read);
      read = reading.rules();
      next.edit = compiled(compiling, base.rulebase(), reading.rulebase(), waiting);
    } catch (FaultException e) {
      TolerantReading.Read tolerant = TolerantReading.of(after, environment);
      List<Fault> more = beyond(this, tolerant.faults());
      if (!more.isEmpty()) {
        throw new FaultException(more);
      }
      if (tolerant.faults().isEmpty()) {
        throw e;
      }
      // What could not be read before still cannot; the rest is edited meanwhile.
      faults = tolerant.faults();
      next.edit = compiled(compiling, base.rulebase(), tolerant.rulebase(), waiting);
    }
    next.compiled.set(new Compiled(next.edit.after(), read, faults));
    next.origin = this;
    synchronized (this) {
      boolean isReviewed = isReviewed();
      if (!isReviewed && behind >= MOST_BEHIND) {
        // Nobody looks at these reviews.
        origin = null;
      }
      next.behind = !isReviewed && origin != null ? behind + 1 : 0;
    }
    return next;
  }

  private static CompiledEdit compiled(
      Compiling compiling, CompiledRulebase base, Rulebase next, Progress waiting) {
    try {
      return compiling.of(base, next, waiting);
    } catch (ProblemException e) {
      throw new FaultException(e.problems().stream().map(TolerantReading::fault).toList());
    }
  }

  /** What cannot be read of the rulebase, and takes no part until it is repaired. */
  public List<Fault> faults() {
    return everything().faults();
  }

  /** What cannot be read here and could be before. */
  public List<Fault> faultsBeyond(RulebaseSnapshot before) {
    return beyond(before, faults());
  }

  private static List<Fault> beyond(RulebaseSnapshot before, List<Fault> found) {
    List<Fault> known = before.faults();
    return found.stream().filter(fault -> !known.contains(fault)).toList();
  }

  /** A rulebase, and the rules of it with what they were read from. */
  private record Reading(Rulebase rulebase, Readings rules) {}

  /** The rulebase, for which rules are read that nobody has read before. */
  private Reading reading(Readings known) {
    List<RuleDoc> docs = new ArrayList<>();
    List<Rule> rules = new ArrayList<>();
    int[] next = {0};
    Rulebase rulebase =
        contents.rulebase(
            doc -> {
              int at = known.find(doc, next[0]);
              next[0] = at < 0 ? next[0] : at + 1;
              Rule rule = at < 0 ? DocumentReader.rule(doc) : known.rules().get(at);
              docs.add(doc);
              rules.add(rule);
              return rule;
            });
    return new Reading(rulebase, new Readings(docs, rules));
  }

  /**
   * Rules that have been read, in order, with what they were read from: a rule is read once,
   * however many revisions it stays the same.
   */
  private record Readings(List<RuleDoc> docs, List<Rule> rules) {

    private static final Readings NONE = new Readings(List.of(), List.of());

    /** The place of the very same document, looked for first where it may be; or −1. */
    private int find(RuleDoc doc, int guess) {
      for (int at = guess; at < docs.size(); at++) {
        if (docs.get(at) == doc) {
          return at;
        }
      }
      for (int at = Math.min(guess, docs.size()) - 1; at >= 0; at--) {
        if (docs.get(at) == doc) {
          return at;
        }
      }
      return -1;
    }
  }

  /** What the edit that made this snapshot changed, until the review is there. */
  public Optional<CompiledEdit> edit() {
    return Optional.ofNullable(edit);
  }

  public long revision() {
    return state.revision();
  }

  /** About how many bytes stand behind this snapshot alone, compiled and reviewed. */
  long weight() {
    long ofRules = BYTES_OF_A_RULE * contents.rules().size();
    return ofRules
        + decisions.known().map(RecordedDecisions::bytes).orElse(0L)
        + compiled.known().map(known -> known.rulebase().index().bytes()).orElse(0L);
  }

  /** What everything here is worked out from. */
  public State state() {
    return state;
  }

  public Contents contents() {
    return contents;
  }

  public Environment environment() {
    return environment;
  }

  /** The compiled rulebase. */
  public CompiledRulebase compiled() {
    return everything().rulebase();
  }

  private Compiled everything() {
    return compiled.get(
        () -> {
          try {
            Reading reading = reading(Readings.NONE);
            return new Compiled(
                CompiledRulebase.asFarAsKnown(reading.rulebase(), environment),
                reading.rules(),
                List.of());
          } catch (FaultException | ProblemException | NullPointerException e) {
            TolerantReading.Read tolerant = TolerantReading.of(contents, environment);
            return new Compiled(
                CompiledRulebase.asFarAsKnown(tolerant.rulebase(), environment),
                Readings.NONE,
                tolerant.faults());
          }
        });
  }

  /** What became of every promise that can be read, by group and name. */
  public List<PromiseCheck> promises() {
    return promises.get(
        () -> {
          ProbeText probes = new ProbeText(environment);
          Decider decider = new Decider(compiled());
          List<PromiseCheck> checks = new ArrayList<>();
          for (PromiseDoc doc : contents.promisesInOrder()) {
            try {
              checks.add(PromiseCheck.of(DocumentReader.promise(doc, probes), decider));
            } catch (FaultException e) {
              // What it names may be gone; it is shown as one that cannot be checked.
            }
          }
          return List.copyOf(checks);
        });
  }

  /** How far the review is, while it is being made. */
  public Optional<Progress> progress() {
    RulebaseSnapshot before = origin;
    Progress own = progress;
    // Where edits follow each other quickly, the review of the one before is waited for first.
    return own != null && own.total() == 0 && before != null && before.progress().isPresent()
        ? before.progress()
        : Optional.ofNullable(own);
  }

  /** Whether there is a review already. */
  boolean isReviewed() {
    return review.known().isPresent();
  }

  /** Stops the review that is being made; from then on asking for it is refused. */
  public void stopReview() {
    progress()
        .ifPresent(
            going -> {
              stopped = true;
              going.stop();
            });
  }

  /**
   * Gives up what is being worked out for a snapshot that was only tried out: nobody waits for it
   * any more. The review of what it was made from goes on.
   */
  public void abandon() {
    stopped = true;
    Progress own = progress;
    if (own != null) {
      own.stop();
    }
  }

  /** Lets the review be made after all. */
  public void letReview() {
    stopped = false;
  }

  /**
   * The review; after an edit only of what the edit concerns.
   *
   * @throws CancellationException if somebody has stopped it
   */
  public Review review() {
    Review known = review.get(this::reviewed);
    if (origin != null || edit != null || besideOther != null) {
      // It says all that the way here could say; nobody need keep that alive.
      origin = null;
      edit = null;
      besideOther = null;
    }
    return known;
  }

  private Review reviewed() {
    if (stopped) {
      throw new CancellationException("the review was stopped");
    }
    Progress watched = new Progress();
    progress = watched;
    if (stopped) {
      watched.stop();
    }
    try {
      return makeReview(watched);
    } finally {
      progress = null;
    }
  }

  private Review makeReview(Progress watched) {
    RulebaseSnapshot before = origin;
    CompiledEdit made = edit;
    RecordedDecisions own = decisions();
    if (besideOther != null) {
      return besideOther.over(own);
    }
    return before == null || made == null || before.stopped
        ? Reviewer.review(budget, own, watched)
        : Reviewer.again(before.review(), made, own, watched);
  }
}
