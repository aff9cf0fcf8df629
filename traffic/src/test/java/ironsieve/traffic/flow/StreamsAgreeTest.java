package ironsieve.traffic.flow;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

/** A stream put in order against laying every segment where its number says. */
class StreamsAgreeTest {

  /** A segment that was sent: where it lies in the stream, and what it holds. */
  private record Segment(int at, byte[] bytes) {}

  private static final class Heard implements StreamSide.Receiver {
    private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    private int lost;

    @Override
    public void bytes(byte[] from, int offset, int length) {
      bytes.write(from, offset, length);
    }

    @Override
    public void lost() {
      lost++;
    }
  }

  @Property(tries = 2000)
  void reorderedRepeatedAndOverlappingSegmentsAreTheStream(@ForAll long seed) {
    Random random = new Random(seed);
    byte[] stream = new byte[1 + random.nextInt(3_000)];
    random.nextBytes(stream);
    List<Segment> segments = new ArrayList<>();
    for (int at = 0; at < stream.length; ) {
      int length = Math.min(stream.length - at, 1 + random.nextInt(200));
      int before = Math.min(at, random.nextInt(4) == 0 ? random.nextInt(50) : 0);
      segments.add(new Segment(at - before, Arrays.copyOfRange(stream, at - before, at + length)));
      at += length;
    }
    int count = segments.size();
    for (int i = 0; i < count / 4; i++) {
      segments.add(segments.get(random.nextInt(count)));
    }
    Collections.shuffle(segments, random);
    // Sequence numbers go round.
    int first = random.nextBoolean() ? random.nextInt() : -random.nextInt(2_000);
    StreamSide side = new StreamSide();
    side.begin(first);
    Heard heard = new Heard();
    for (Segment one : segments) {
      side.segment(first + one.at(), one.bytes(), 0, one.bytes().length, false, heard);
    }
    side.finish(heard);
    assertThat(heard.bytes.toByteArray()).isEqualTo(stream);
    assertThat(heard.lost).isZero();
    assertThat(side.waitingBytes()).isZero();
  }

  @Property(tries = 1000)
  void whatNeverComesIsToldOnceAndReadingGoesOnBehindIt(@ForAll long seed) {
    Random random = new Random(seed);
    byte[] stream = new byte[600];
    random.nextBytes(stream);
    StreamSide side = new StreamSide();
    side.begin(1);
    Heard heard = new Heard();
    ByteArrayOutputStream expected = new ByteArrayOutputStream();
    int holes = 0;
    boolean isHole = false;
    for (int at = 0; at < stream.length; at += 100) {
      if (random.nextInt(3) == 0) {
        holes += isHole ? 0 : 1;
        isHole = true;
        continue;
      }
      isHole = false;
      side.segment(1 + at, stream, at, 100, false, heard);
      expected.write(stream, at, 100);
    }
    side.finish(heard);
    assertThat(heard.bytes.toByteArray()).isEqualTo(expected.toByteArray());
    // A hole at the end cannot be known.
    assertThat(heard.lost).isEqualTo(isHole ? holes - 1 : holes);
  }
}
