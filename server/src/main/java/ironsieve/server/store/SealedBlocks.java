package ironsieve.server.store;

import ironsieve.recorded.BlockStore;
import ironsieve.recorded.LineBlock;
import java.util.ArrayList;
import java.util.List;

/**
 * Blocks of a tape that grows for as long as somebody listens: a few in memory, all others in
 * mapped files, so that what came in long ago takes none of the heap. Not for several threads.
 */
public final class SealedBlocks implements BlockStore {

  /** So many bytes wait in memory before they go to a file. */
  private static final int MOST_WAITING = 16 << 20;

  private final List<LineBlock> mapped = new ArrayList<>();
  private final List<LineBlock> waiting = new ArrayList<>();
  private long bytes;

  @Override
  public void add(LineBlock block) {
    waiting.add(block);
    bytes += block.bytes().limit();
    if (bytes >= MOST_WAITING) {
      try (BlockFile file = new BlockFile()) {
        waiting.forEach(file::add);
        mapped.addAll(file.all());
      }
      waiting.clear();
      bytes = 0;
    }
  }

  @Override
  public List<LineBlock> all() {
    List<LineBlock> all = new ArrayList<>(mapped);
    all.addAll(waiting);
    return all;
  }
}
