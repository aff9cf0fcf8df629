package ironsieve.review;

import java.util.Collection;
import java.util.stream.Stream;

/** Work on the many rules that meet one broad rule, which would else fall to one processor. */
final class Parallel {

  /** Fewer are sooner done than shared out. */
  private static final int MANY = 64;

  private Parallel() {}

  /** These in their order, worked on by all processors where they are many. */
  static <T> Stream<T> stream(Collection<T> all) {
    return all.size() < MANY ? all.stream() : all.parallelStream();
  }
}
