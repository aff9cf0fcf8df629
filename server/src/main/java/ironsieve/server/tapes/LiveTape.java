package ironsieve.server.tapes;

import ironsieve.files.FaultException;
import ironsieve.model.Environment;
import ironsieve.recorded.ColumnsBuilder;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.TapeColumns;
import ironsieve.server.edit.Recorded;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.TapeEditor;
import ironsieve.server.store.SealedBlocks;
import ironsieve.server.store.TapeContents;
import ironsieve.traffic.log.Ipfix;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.log.SyslogLine;
import ironsieve.traffic.tape.TapeMaker;
import ironsieve.traffic.tape.TrafficRecord;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jboss.logging.Logger;

/**
 * A tape that grows while somebody listens: what comes in is added up in memory and saved when it
 * is told to. Where the names of the workspace change meanwhile, it goes on in the new ones. Safe
 * for use by many threads.
 */
final class LiveTape {

  private static final Logger LOG = Logger.getLogger("ironsieve");

  /** After so many savings a flow that tells one direction waits no longer for the other. */
  private static final int SAVINGS_WAITED = 10;

  /** So many records wait to be saved that they can be read again in other names. */
  private static final int MOST_UNSAVED = 1_000_000;

  private final Supplier<RulebaseSnapshot> snapshot;
  private final TapeEditor editor;
  private final Function<String, Optional<Integer>> keptFrom;
  private final String rulebase;
  private final String name;
  private final Ipfix ipfix = new Ipfix(ZoneId.systemDefault());
  private final AtomicLong received = new AtomicLong();
  private final AtomicLong refused = new AtomicLong();
  private final ReentrantLock saving = new ReentrantLock();
  private final List<TrafficRecord> unsaved = new ArrayList<>();
  private Environment environment;
  private SealedBlocks blocks;
  private TapeMaker maker;
  private long saved;

  /** What of the tape is in the database and stays there as it is. */
  private Optional<TapeContents.Sealed> sealed = Optional.empty();

  /** Where it is kept; nothing before it is. */
  private Optional<Long> content;

  private int savings;
  private volatile String trouble = "";

  /** What else than IPFIX somebody sends, in words. */
  private volatile String foreign = "";

  /**
   * A tape of a rulebase; what is on it already stays there.
   *
   * @param snapshot the rulebase as it is now
   * @param keptFrom the first minute of it that is kept, by its name; nothing for all of it
   * @throws FaultException if nothing can be added to it
   */
  LiveTape(
      String rulebase,
      String name,
      Supplier<RulebaseSnapshot> snapshot,
      TapeEditor editor,
      Function<String, Optional<Integer>> keptFrom) {
    this.rulebase = rulebase;
    this.name = name;
    this.snapshot = snapshot;
    this.editor = editor;
    this.keptFrom = keptFrom;
    content = editor.content(rulebase, name);
    begin(snapshot.get());
  }

  /** Whether nobody has put another tape in its place. */
  boolean isNewest() {
    return editor.content(rulebase, name).equals(content);
  }

  private void begin(RulebaseSnapshot now) {
    Recorded recorded = now.recorded();
    if (recorded.unread().containsKey(name) || !recorded.samples(name).isEmpty()) {
      throw new FaultException(
          "listener",
          "tape",
          "nothing can be added to the tape "
              + name
              + ", which was made of a capture or cannot be read any more; take another name");
    }
    SealedBlocks fresh = new SealedBlocks();
    TapeMaker next = new TapeMaker(now.environment(), fresh::add);
    recorded.tapes().stream()
        .filter(one -> one.name().equals(name))
        .findFirst()
        .ifPresent(next::begin);
    environment = now.environment();
    blocks = fresh;
    maker = next;
    sealed = Optional.empty();
    saved = 0;
  }

  /**
   * Names may have changed since: what is saved has the new ones, and what is not yet saved is read
   * again in them.
   */
  private void followNames() {
    RulebaseSnapshot now = snapshot.get();
    if (now.environment() == environment || now.environment().equals(environment)) {
      return;
    }
    if (unsaved.size() >= MOST_UNSAVED) {
      return;
    }
    begin(now);
    unsaved.forEach(maker::add);
  }

  String name() {
    return name;
  }

  long received() {
    return received.get();
  }

  long refused() {
    return refused.get();
  }

  /** Why the last saving failed, or what comes in that cannot be read; else empty. */
  String trouble() {
    return trouble.isEmpty() ? foreign : trouble;
  }

  /** Takes a line of syslog. */
  synchronized void line(String line) {
    received.incrementAndGet();
    try {
      add(SyslogLine.parse(line, ZoneId.systemDefault()));
    } catch (SyslogLine.SyslogException | LogRecords.FieldException e) {
      refused.incrementAndGet();
    }
  }

  /** Takes a message of IPFIX. */
  synchronized void flows(String exporter, byte[] message) {
    received.incrementAndGet();
    if (isForeign(message)) {
      return;
    }
    long before = ipfix.unreadable() + ipfix.withoutTemplate();
    ipfix.message(exporter, message, 0, message.length, this::add);
    refused.addAndGet(ipfix.unreadable() + ipfix.withoutTemplate() - before);
  }

  /** Notes what is sent in another format, which would otherwise only be counted. */
  boolean isForeign(byte[] message) {
    Optional<String> other = Ipfix.other(message);
    if (other.isPresent()) {
      refused.incrementAndGet();
      foreign =
          other.get() + " comes in, and only IPFIX (RFC 7011) is read; let the exporter send that";
    }
    return other.isPresent();
  }

  /** Counts what cannot be read. */
  void refuse() {
    refused.incrementAndGet();
  }

  private void add(TrafficRecord record) {
    maker.add(record);
    if (unsaved.size() < MOST_UNSAVED) {
      unsaved.add(record);
    }
  }

  /**
   * Saves what came in, one saving after the other: an older one never comes after a newer.
   *
   * @param isLast whether also what still waits for its other direction is saved
   */
  void save(boolean isLast) {
    saving.lock();
    try {
      saveNow(isLast);
      trouble = "";
    } catch (RuntimeException e) {
      trouble = String.valueOf(e.getMessage());
      LOG.warnf("live traffic of tape %s was not saved: %s", name, e.getMessage());
    } finally {
      saving.unlock();
    }
  }

  /**
   * Saves what came in.
   *
   * @throws RuntimeException if it could not be saved
   */
  void saveNow() {
    saving.lock();
    try {
      saveNow(false);
    } finally {
      saving.unlock();
    }
  }

  private void saveNow(boolean isLast) {
    List<LineBlock> sealedBlocks;
    List<LineBlock> all = new ArrayList<>();
    ColumnsBuilder.Built built;
    int count;
    long records;
    synchronized (this) {
      if (isLast || ++savings % SAVINGS_WAITED == 0) {
        ipfix.finish(this::add);
      }
      followNames();
      if (maker.records() == saved) {
        return;
      }
      records = maker.records();
      count = unsaved.size();
      List<LineBlock> rest = new ArrayList<>();
      built = maker.soFar(rest::add).built();
      sealedBlocks = blocks.all();
      all.addAll(sealedBlocks);
      all.addAll(rest);
    }
    TapeColumns received = TapeColumns.of(name, built, all, 0);
    TapeColumns whole = withinRetention(received);
    if (whole.lines() == 0) {
      return;
    }
    TapeContents.Numbers numbers = editor.recordLive(rulebase, whole, sealed);
    // What was cut off at its beginning is cut anew each time.
    sealed =
        whole == received
            ? Optional.of(
                new TapeContents.Sealed(
                    numbers, sealedBlocks.size(), whole.conversations().count()))
            : Optional.empty();
    saved = records;
    content = Optional.of(numbers.content());
    synchronized (this) {
      unsaved.subList(0, count).clear();
    }
  }

  private TapeColumns withinRetention(TapeColumns whole) {
    return keptFrom
        .apply(name)
        .filter(minute -> whole.blocks().stream().anyMatch(block -> block.first() < minute))
        .map(whole::since)
        .orElse(whole);
  }
}
