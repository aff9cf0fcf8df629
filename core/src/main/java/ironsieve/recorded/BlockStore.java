package ironsieve.recorded;

import java.util.ArrayList;
import java.util.List;

/** Where blocks go as they fill, and what they are read from once all are there. */
public interface BlockStore {

  /** Takes a block in. */
  void add(LineBlock block);

  /** All blocks in the order they came; none may come after that. */
  List<LineBlock> all();

  /** One that keeps them as they are. */
  static BlockStore inMemory() {
    List<LineBlock> blocks = new ArrayList<>();
    return new BlockStore() {
      @Override
      public void add(LineBlock block) {
        blocks.add(block);
      }

      @Override
      public List<LineBlock> all() {
        return List.copyOf(blocks);
      }
    };
  }
}
