package ironsieve.files;

import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.recorded.Conversations;
import ironsieve.recorded.Values;
import ironsieve.region.Address;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The parts of a tape of columns as bytes, but for its blocks, which are bytes already. Numbers are
 * big endian; a text is its length in bytes (2) and UTF-8; what may be missing has a byte 0 or 1
 * before it.
 *
 * <p>The words: seven lists, each its count (4) and its values – sources and destinations as zone,
 * version (1: 4 or 6) and address (two numbers of 8 bytes), logins, kinds of device with posture,
 * host names, services as protocol × 65536 + detail (4), and uses as application, carrier and
 * feature. Conversations: how many (4), and for each of nine columns – the place of each part's
 * value, what is not said, the sample – the least (4), a width (1), and what each is above the
 * least in as many bytes.
 */
public final class TapeParts {

  /** So many conversations are in one part at most. */
  public static final int CONVERSATIONS = 1 << 16;

  private static final int COLUMNS = Conversations.PARTS + 2;

  private TapeParts() {}

  /** Writes one value. */
  private interface Writing<T> {
    void write(DataOutputStream out, T value) throws IOException;
  }

  /** Reads one value. */
  private interface Reading<T> {
    T read(DataInputStream in) throws IOException;
  }

  /** The words as bytes. */
  public static byte[] words(Values values) {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (DataOutputStream out = new DataOutputStream(bytes)) {
      list(out, values.from(), TapeParts::place);
      list(out, values.people(), TapeParts::optional);
      list(
          out,
          values.devices(),
          (to, device) -> {
            to.writeUTF(device.kind());
            to.writeUTF(device.posture().word());
          });
      list(out, values.to(), TapeParts::place);
      list(out, values.hosts(), TapeParts::optional);
      list(out, values.services(), (to, service) -> to.writeInt(service.number()));
      list(
          out,
          values.uses(),
          (to, use) -> {
            optional(to, use.application());
            optional(to, use.carrier());
            optional(to, use.feature());
          });
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
    return bytes.toByteArray();
  }

  private static <T> void list(DataOutputStream out, List<T> values, Writing<T> writing)
      throws IOException {
    out.writeInt(values.size());
    for (T value : values) {
      writing.write(out, value);
    }
  }

  private static void place(DataOutputStream out, Place place) throws IOException {
    out.writeUTF(place.zone());
    out.writeByte(place.address().version() == Address.Version.V4 ? 4 : 6);
    out.writeLong(place.address().high());
    out.writeLong(place.address().low());
  }

  private static void optional(DataOutputStream out, Optional<String> text) throws IOException {
    out.writeBoolean(text.isPresent());
    if (text.isPresent()) {
      out.writeUTF(text.get());
    }
  }

  /**
   * Words that were written.
   *
   * @throws FaultException if these are none
   */
  public static Values readWords(byte[] bytes) {
    try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(bytes))) {
      return new Values(
          list(in, TapeParts::readPlace),
          list(in, TapeParts::readOptional),
          list(in, from -> new Device(from.readUTF(), posture(from.readUTF()))),
          list(in, TapeParts::readPlace),
          list(in, TapeParts::readOptional),
          list(in, from -> Service.ofNumber(from.readInt())),
          list(
              in,
              from ->
                  new ApplicationUse(readOptional(from), readOptional(from), readOptional(from))));
    } catch (IOException | IllegalArgumentException e) {
      throw damaged();
    }
  }

  private static FaultException damaged() {
    return new FaultException("tape", "", "its columns are damaged");
  }

  private static <T> List<T> list(DataInputStream in, Reading<T> reading) throws IOException {
    int count = in.readInt();
    if (count < 0 || count > in.available()) {
      throw new IOException("a list longer than what is there");
    }
    List<T> all = new ArrayList<>(count);
    for (int i = 0; i < count; i++) {
      all.add(reading.read(in));
    }
    return all;
  }

  private static Place readPlace(DataInputStream in) throws IOException {
    String zone = in.readUTF();
    Address.Version version = in.readByte() == 4 ? Address.Version.V4 : Address.Version.V6;
    return new Place(zone, new Address(version, in.readLong(), in.readLong()));
  }

  private static Optional<String> readOptional(DataInputStream in) throws IOException {
    return in.readBoolean() ? Optional.of(in.readUTF()) : Optional.empty();
  }

  private static Posture posture(String word) {
    for (Posture one : Posture.values()) {
      if (one.word().equals(word)) {
        return one;
      }
    }
    throw new IllegalArgumentException("no posture: " + word);
  }

  /** The conversations as bytes, in as many parts as it takes. */
  public static List<byte[]> conversations(Conversations all) {
    return conversations(all, 0);
  }

  /** The same without the first so many parts. */
  public static List<byte[]> conversations(Conversations all, int first) {
    List<byte[]> parts = new ArrayList<>();
    for (int begin = first * CONVERSATIONS; begin < all.count(); begin += CONVERSATIONS) {
      parts.add(part(all, begin, Math.min(all.count(), begin + CONVERSATIONS)));
    }
    return parts;
  }

  private static int value(Conversations all, int column, int conversation) {
    return switch (column) {
      case Conversations.PARTS -> all.unsaidBits(conversation);
      case Conversations.PARTS + 1 -> all.sample(conversation);
      default -> all.column(column)[conversation];
    };
  }

  private static byte[] part(Conversations all, int begin, int end) {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (DataOutputStream out = new DataOutputStream(bytes)) {
      out.writeInt(end - begin);
      for (int column = 0; column < COLUMNS; column++) {
        int least = Integer.MAX_VALUE;
        int most = Integer.MIN_VALUE;
        for (int c = begin; c < end; c++) {
          least = Math.min(least, value(all, column, c));
          most = Math.max(most, value(all, column, c));
        }
        int bits = Long.SIZE - Long.numberOfLeadingZeros((long) most - least);
        int width = (bits + Byte.SIZE - 1) / Byte.SIZE;
        out.writeInt(least);
        out.writeByte(width);
        for (int c = begin; c < end; c++) {
          long above = (long) value(all, column, c) - least;
          for (int b = width - 1; b >= 0; b--) {
            out.writeByte((int) (above >>> b * Byte.SIZE));
          }
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
    return bytes.toByteArray();
  }

  /**
   * Conversations that were written.
   *
   * @param values what their parts are, to see that all of them are there
   * @throws FaultException if these are none
   */
  public static Conversations readConversations(List<byte[]> parts, Values values) {
    try {
      int count = 0;
      for (byte[] part : parts) {
        int of = new DataInputStream(new ByteArrayInputStream(part)).readInt();
        if (of < 0 || of > CONVERSATIONS) {
          throw damaged();
        }
        count += of;
      }
      int[][] columns = new int[COLUMNS][count];
      int at = 0;
      for (byte[] part : parts) {
        at += read(part, columns, at);
      }
      byte[] unsaid = new byte[count];
      for (int c = 0; c < count; c++) {
        unsaid[c] = (byte) (columns[Conversations.PARTS][c] & 0xF);
      }
      demandKnown(columns, values);
      return new Conversations(
          count,
          java.util.Arrays.copyOf(columns, Conversations.PARTS),
          unsaid,
          columns[Conversations.PARTS + 1]);
    } catch (IOException e) {
      throw damaged();
    }
  }

  private static int read(byte[] part, int[][] columns, int at) throws IOException {
    DataInputStream in = new DataInputStream(new ByteArrayInputStream(part));
    int count = in.readInt();
    for (int[] column : columns) {
      int least = in.readInt();
      int width = in.readByte();
      if (width < 0 || width > Integer.BYTES || in.available() < (long) width * count) {
        throw damaged();
      }
      for (int c = 0; c < count; c++) {
        long above = 0;
        for (int b = 0; b < width; b++) {
          above = above << Byte.SIZE | in.readUnsignedByte();
        }
        column[at + c] = (int) (least + above);
      }
    }
    return count;
  }

  private static void demandKnown(int[][] columns, Values values) {
    for (int d = 0; d < Conversations.PARTS; d++) {
      int size = values.count(d);
      for (int value : columns[d]) {
        if (value < 0 || value >= size) {
          throw damaged();
        }
      }
    }
  }
}
