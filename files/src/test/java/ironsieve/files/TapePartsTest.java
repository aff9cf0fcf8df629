package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.recorded.Conversations;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Conversations of a tape that grows, as parts. */
class TapePartsTest {

  /** Such as a machine sees that everybody asks. */
  private static Conversations some(int count) {
    int[][] parts = new int[Conversations.PARTS][count];
    for (int part = 0; part < parts.length; part++) {
      for (int one = 0; one < count; one++) {
        parts[part][one] = one * (part + 1) % 1_000;
      }
    }
    int[] samples = new int[count];
    Arrays.fill(samples, -1);
    return new Conversations(count, parts, new byte[count], samples);
  }

  @Test
  void partsThatAreFullStayAsTheyAreWhenMoreConversationsCome() {
    List<byte[]> before = TapeParts.conversations(some(2 * TapeParts.CONVERSATIONS + 7));
    List<byte[]> after = TapeParts.conversations(some(3 * TapeParts.CONVERSATIONS + 9));
    assertThat(before).hasSize(3);
    assertThat(after).hasSize(4);
    assertThat(after.subList(0, 2)).containsExactly(before.get(0), before.get(1));
    assertThat(TapeParts.conversations(some(3 * TapeParts.CONVERSATIONS + 9), 2))
        .containsExactly(after.get(2), after.get(3));
    assertThat(TapeParts.conversations(some(TapeParts.CONVERSATIONS), 1)).isEmpty();
  }
}
