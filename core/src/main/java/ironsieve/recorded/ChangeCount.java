package ironsieve.recorded;

import ironsieve.compile.Dimension;
import ironsieve.model.Outcome;
import ironsieve.recorded.LineBlock.Column;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Counts the lines of which two decisions differ in the verdict, or in lane or notice alone. */
final class ChangeCount {

  private final RecordedDecisions before;
  private final RecordedDecisions after;
  private final MostFrequent lines;
  private final Map<String, Long> people = new HashMap<>();
  private final Map<Long, Boolean> differs = new HashMap<>();
  private long times;
  private long besideVerdict;
  private long count;

  ChangeCount(RecordedDecisions before, RecordedDecisions after, int most) {
    this.before = before;
    this.after = after;
    lines = new MostFrequent(most);
  }

  /** Looks at some lines of a tape. */
  void addLines(int tape, long[] numbers) {
    TapeColumns columns = before.traffic().tapes().get(tape);
    long[] byPerson = new long[columns.values().people().size()];
    for (long number : numbers) {
      if (isOther(before.code(tape, number), after.code(tape, number))) {
        LineBlock block = columns.blocks().get(TapeCodes.block(number));
        int line = TapeCodes.line(number);
        int conversation = (int) block.value(Column.CONVERSATION, line);
        add(tape, number, block.value(Column.TIMES, line), columns, conversation, byPerson);
      }
    }
    addPeople(columns, byPerson);
  }

  /** Looks at all lines of a tape. */
  void addAll(int tape) {
    TapeColumns columns = before.traffic().tapes().get(tape);
    long[] byPerson = new long[columns.values().people().size()];
    int[] was = new int[LineBlock.MOST];
    int[] becomes = new int[LineBlock.MOST];
    int[] conversations = new int[LineBlock.MOST];
    long[] timesOf = new long[LineBlock.MOST];
    for (int b = 0; b < columns.blocks().size(); b++) {
      LineBlock block = columns.blocks().get(b);
      before.codes(tape, b, was);
      after.codes(tape, b, becomes);
      block.read(Column.CONVERSATION, conversations);
      block.read(Column.TIMES, timesOf);
      for (int i = 0; i < block.count(); i++) {
        if (isOther(was[i], becomes[i])) {
          add(tape, TapeCodes.number(b, i), timesOf[i], columns, conversations[i], byPerson);
        }
      }
    }
    addPeople(columns, byPerson);
  }

  private void add(
      int tape, long number, long more, TapeColumns columns, int conversation, long[] byPerson) {
    times += more;
    count++;
    if (keepsVerdict(before.code(tape, number), after.code(tape, number))) {
      besideVerdict += more;
    }
    byPerson[columns.conversations().part(conversation, Dimension.PERSON)] += more;
    lines.offer(more, tape, TapeCodes.block(number), TapeCodes.line(number));
  }

  private void addPeople(TapeColumns columns, long[] byPerson) {
    for (int p = 0; p < byPerson.length; p++) {
      if (byPerson[p] > 0) {
        long more = byPerson[p];
        columns.values().people().get(p).ifPresent(login -> people.merge(login, more, Long::sum));
      }
    }
  }

  private boolean isOther(int was, int becomes) {
    long both = (long) was << 32 | becomes;
    Boolean known = differs.get(both);
    if (known == null) {
      Set<Outcome> outcomes = before.decision(was).outcomes();
      known = !outcomes.equals(after.decision(becomes).outcomes());
      differs.put(both, known);
    }
    return known;
  }

  private boolean keepsVerdict(int was, int becomes) {
    return before.decision(was).verdicts().equals(after.decision(becomes).verdicts());
  }

  RecordedDecisions.Changes changes() {
    List<RecordedDecisions.Changed> told = new ArrayList<>();
    for (MostFrequent.One one : lines.inOrder()) {
      long number = TapeCodes.number(one.block(), one.line());
      told.add(
          new RecordedDecisions.Changed(
              before.traffic().tapes().get(one.tape()).line(one.block(), one.line()),
              before.decision(before.code(one.tape(), number)),
              after.decision(after.code(one.tape(), number))));
    }
    return new RecordedDecisions.Changes(times, besideVerdict, count, people, told);
  }
}
