package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Shares are told the largest first, whatever order their parts were summed in. */
class ShareTest {

  @Test
  void equalSharesStayInTheOrderTheyCameIn() {
    Share summed = Share.exact(0.1 + 0.2);
    Share reversed = Share.exact(0.3);
    assertThat(summed.value()).isGreaterThan(reversed.value());
    assertThat(Stream.of(reversed, summed).sorted(Share.LARGEST_FIRST))
        .containsExactly(reversed, summed);
    assertThat(Stream.of(summed, reversed).sorted(Share.LARGEST_FIRST))
        .containsExactly(summed, reversed);
  }

  @Test
  void aLargerShareComesFirst() {
    Share small = Share.exact(0.3);
    Share large = Share.exact(0.300_000_01);
    assertThat(Stream.of(small, Share.WHOLE, large).sorted(Share.LARGEST_FIRST))
        .containsExactly(Share.WHOLE, large, small);
  }
}
