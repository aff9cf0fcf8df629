package ironsieve.traffic.view;

import ironsieve.recorded.BlockLines;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.TapeColumns;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * One pass over all lines for one narrowing. A line that fits counts for its conversation and its
 * code; one that only one filter keeps out counts for that filter's own bars, so that what is
 * chosen of them does not take the others away.
 */
final class Scan {

  /** Times, bytes up and bytes down. */
  static final int SUMS = 3;

  private final List<TapeColumns> tapes;
  private final Optional<RecordedDecisions> decisions;
  private final Filters filters;
  private final int codes;

  /** For each tape, for each of its conversations, what fits. */
  final long[][][] byConversation;

  /** For each code what fits. */
  final long[][] byCode;

  /** For each filter, for each tape, for each key of its labels, what only it keeps out. */
  final long[][][][] keptOut;

  /** For each tape what fits. */
  final long[][] byTape;

  /** For each step what would fit if time did not matter. */
  final long[][] bySteps;

  /** What to look for in lines. */
  interface Filters {
    /** How many there are, time apart. */
    int count();

    /** The bits of the filters that keep a conversation out. */
    int[] keepOut(int tape);

    /** The same of each code. */
    int[] keepOutCodes();

    /** The labels by which a filter looks at a tape's conversations; null for those by code. */
    Labels labels(int filter, int tape);

    /** Whether a filter is about tapes as wholes and keeps one out. */
    int keepOutTape(int tape);

    /** The first minute that fits. */
    int from();

    /** The first minute after it that does not. */
    int to();

    /** Which step a minute lies in. */
    int step(int minute);

    /** How many steps there are. */
    int steps();
  }

  private Scan(List<TapeColumns> tapes, Optional<RecordedDecisions> decisions, Filters filters) {
    this.tapes = tapes;
    this.decisions = decisions;
    this.filters = filters;
    codes = decisions.map(RecordedDecisions::codeCount).orElse(1);
    byConversation = new long[tapes.size()][SUMS][];
    keptOut = new long[filters.count()][tapes.size()][SUMS][];
    for (int t = 0; t < tapes.size(); t++) {
      for (int s = 0; s < SUMS; s++) {
        byConversation[t][s] = new long[tapes.get(t).conversations().count()];
        for (int f = 0; f < filters.count(); f++) {
          Labels labels = filters.labels(f, t);
          keptOut[f][t][s] = new long[labels == null ? codes : labels.keys()];
        }
      }
    }
    byCode = new long[SUMS][codes];
    byTape = new long[SUMS][tapes.size()];
    bySteps = new long[SUMS][filters.steps()];
  }

  /** Goes through all lines, on all processors. */
  static Scan of(List<TapeColumns> tapes, Optional<RecordedDecisions> decisions, Filters filters) {
    int shares = Runtime.getRuntime().availableProcessors();
    int blocks = tapes.stream().mapToInt(tape -> tape.blocks().size()).max().orElse(0);
    return IntStream.range(0, Math.max(1, Math.min(shares, blocks)))
        .parallel()
        .mapToObj(
            share -> {
              Scan own = new Scan(tapes, decisions, filters);
              own.go(share, Math.max(1, Math.min(shares, blocks)));
              return own;
            })
        .reduce(Scan::and)
        .orElseThrow();
  }

  private Scan and(Scan other) {
    for (int t = 0; t < tapes.size(); t++) {
      add(byConversation[t], other.byConversation[t]);
      for (int f = 0; f < filters.count(); f++) {
        add(keptOut[f][t], other.keptOut[f][t]);
      }
    }
    add(byCode, other.byCode);
    add(byTape, other.byTape);
    add(bySteps, other.bySteps);
    return this;
  }

  private static void add(long[][] sums, long[][] more) {
    for (int s = 0; s < SUMS; s++) {
      for (int i = 0; i < sums[s].length; i++) {
        sums[s][i] += more[s][i];
      }
    }
  }

  private void go(int share, int shares) {
    BlockLines lines = new BlockLines();
    int[] codeOf = new int[LineBlock.MOST];
    int[] conversations = lines.conversations();
    int[] minutes = lines.minutes();
    int[] codeKeepsOut = filters.keepOutCodes();
    for (int t = 0; t < tapes.size(); t++) {
      TapeColumns tape = tapes.get(t);
      int[] keepsOut = filters.keepOut(t);
      int wholeTape = filters.keepOutTape(t);
      for (int b = share; b < tape.blocks().size(); b += shares) {
        lines.read(tape.blocks().get(b));
        if (decisions.isPresent()) {
          decisions.get().codes(t, b, codeOf);
        }
        for (int i = 0; i < lines.count(); i++) {
          int out = keepsOut[conversations[i]] | codeKeepsOut[codeOf[i]] | wholeTape;
          if (out == 0) {
            fits(t, conversations[i], codeOf[i], minutes[i], lines.sums(), i);
          } else if ((out & out - 1) == 0 && isThen(minutes[i])) {
            onlyOne(
                Integer.numberOfTrailingZeros(out),
                t,
                conversations[i],
                codeOf[i],
                lines.sums(),
                i);
          }
        }
      }
    }
  }

  private boolean isThen(int minute) {
    return minute >= filters.from() && minute < filters.to();
  }

  private void fits(int tape, int conversation, int code, int minute, long[][] line, int i) {
    int step = filters.step(minute);
    boolean isThen = isThen(minute);
    long[][] of = byConversation[tape];
    for (int s = 0; s < SUMS; s++) {
      long more = line[s][i];
      bySteps[s][step] += more;
      if (isThen) {
        of[s][conversation] += more;
        byCode[s][code] += more;
        byTape[s][tape] += more;
      }
    }
  }

  private void onlyOne(int filter, int tape, int conversation, int code, long[][] line, int i) {
    Labels labels = filters.labels(filter, tape);
    int key = labels == null ? code : labels.key(conversation);
    for (int s = 0; s < SUMS; s++) {
      keptOut[filter][tape][s][key] += line[s][i];
    }
  }
}
