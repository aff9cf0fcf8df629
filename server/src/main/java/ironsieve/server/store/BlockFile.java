package ironsieve.server.store;

import ironsieve.recorded.BlockStore;
import ironsieve.recorded.LineBlock;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;

/**
 * Blocks of a tape in a file that is mapped, so that they take none of the heap: the system keeps
 * in memory what is asked for. The file has no name any more once it is mapped; it goes with the
 * last who looks at it. Few blocks stay as they are.
 */
final class BlockFile implements BlockStore, AutoCloseable {

  private static final int FEW = 4 << 20;
  private static final int MAPPED_AT_ONCE = 512 << 20;

  private final List<LineBlock> blocks = new ArrayList<>();
  private final List<Integer> sizes = new ArrayList<>();
  private long size;
  private Path path;
  private FileChannel file;

  @Override
  public void add(LineBlock block) {
    size += block.bytes().limit();
    sizes.add(block.bytes().limit());
    try {
      if (file == null && size <= FEW) {
        blocks.add(block);
        return;
      }
      if (file == null) {
        path = Files.createTempFile("iron-sieve-", ".tape");
        file =
            FileChannel.open(
                path,
                StandardOpenOption.READ,
                StandardOpenOption.WRITE,
                StandardOpenOption.DELETE_ON_CLOSE);
        for (LineBlock one : blocks) {
          write(one);
        }
        blocks.clear();
      }
      write(block);
    } catch (IOException e) {
      throw new UncheckedIOException("the temporary file of a tape", e);
    }
  }

  private void write(LineBlock block) throws IOException {
    ByteBuffer bytes = block.bytes();
    while (bytes.hasRemaining()) {
      file.write(bytes);
    }
  }

  @Override
  public List<LineBlock> all() {
    if (file == null) {
      return List.copyOf(blocks);
    }
    try {
      List<LineBlock> all = new ArrayList<>();
      long start = 0;
      int next = 0;
      while (next < sizes.size()) {
        int end = next;
        long length = 0;
        while (end < sizes.size() && length + sizes.get(end) <= MAPPED_AT_ONCE) {
          length += sizes.get(end++);
        }
        ByteBuffer mapped = file.map(FileChannel.MapMode.READ_ONLY, start, length);
        int at = 0;
        for (; next < end; next++) {
          all.add(new LineBlock(mapped.slice(at, sizes.get(next))));
          at += sizes.get(next);
        }
        start += length;
      }
      close();
      return all;
    } catch (IOException e) {
      throw new UncheckedIOException("the temporary file of a tape", e);
    }
  }

  /** Lets the file go; what was mapped stays. */
  @Override
  public void close() {
    try {
      if (file != null) {
        file.close();
      }
    } catch (IOException e) {
      throw new UncheckedIOException("the temporary file of a tape", e);
    }
  }
}
