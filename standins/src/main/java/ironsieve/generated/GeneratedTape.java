package ironsieve.generated;

import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Connection;
import ironsieve.model.Tape;
import ironsieve.region.Box;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;

/** Recorded traffic for a generated rulebase: connections that some of its rules are about. */
public final class GeneratedTape {

  private static final int MOST_LINES = 4_000;
  private static final int WEEKS = 4;

  private GeneratedTape() {}

  /** The same rulebase and seed give the same tape. */
  public static Tape of(CompiledRulebase compiled, long seed) {
    Random random = new Random(seed);
    List<Box> boxes = new ArrayList<>();
    for (Box claimed : compiled.boxes()) {
      compiled.space().ahead().stream()
          .filter(claimed::intersects)
          .map(claimed::intersect)
          .forEach(boxes::add);
    }
    List<Tape.Line> lines = new ArrayList<>();
    for (int i = 0; i < Math.min(MOST_LINES, boxes.size()); i++) {
      int[] point = boxes.get(random.nextInt(boxes.size())).anyPoint(random);
      // Few kinds of connections are very frequent, most are rare.
      long times = 1 + (long) Math.exp(random.nextDouble() * 9);
      lines.add(new Tape.Line(past(compiled.space().sample(point), random), times));
    }
    return new Tape("four weeks", lines);
  }

  /** The same connection some weeks earlier, on the same weekday. */
  private static Connection past(Connection prefetcher, Random random) {
    return new Connection(
        prefetcher.at().minusWeeks(1L + random.nextInt(WEEKS)),
        prefetcher.from(),
        prefetcher.to(),
        prefetcher.service(),
        prefetcher.using());
  }
}
