package ironsieve.server.replays;

import ironsieve.files.FaultException;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import java.util.stream.Stream;

/** The files and folders below one folder, as they can be replayed. */
public final class Recordings {

  private static final int MOST_LOOKED_AT = 10_000;
  private static final int MOST = 1_000;
  private static final int DEEPEST = 4;

  private Recordings() {}

  /**
   * A file or a folder that can be replayed.
   *
   * @param path below the folder, with slashes
   * @param bytes of a file, or of all files that were found in a folder
   */
  public record Source(String path, boolean isFolder, long bytes) {}

  /**
   * What lies in a folder, by path: a thousand at most, of the first ten thousand found. Links are
   * left out, for they may lead to what nobody meant to show.
   *
   * @throws FaultException if it cannot be read
   */
  static List<Source> in(Path top) {
    TreeMap<Path, Long> sizes = new TreeMap<>();
    try (Stream<Path> all = Files.walk(top, DEEPEST)) {
      List<Path> found =
          all.filter(path -> !path.equals(top))
              .limit(MOST_LOOKED_AT)
              .filter(path -> isShown(top, path))
              .toList();
      for (Path path : found) {
        sizes.putIfAbsent(path, 0L);
        if (!Files.isDirectory(path)) {
          long size = path.toFile().length();
          for (Path of = path; !of.equals(top); of = of.getParent()) {
            sizes.merge(of, size, Long::sum);
          }
        }
      }
    } catch (IOException | UncheckedIOException e) {
      throw new FaultException("replay", "source", top.getFileName() + " cannot be read");
    }
    List<Source> sources = new ArrayList<>();
    sizes.forEach(
        (path, size) -> {
          if (sources.size() < MOST) {
            String below = top.relativize(path).toString().replace('\\', '/');
            sources.add(new Source(below, Files.isDirectory(path), size));
          }
        });
    return sources;
  }

  private static boolean isShown(Path top, Path path) {
    for (Path part : top.relativize(path)) {
      if (part.toString().matches("[._].*")) {
        return false;
      }
    }
    return Files.isRegularFile(path, LinkOption.NOFOLLOW_LINKS)
        || Files.isDirectory(path, LinkOption.NOFOLLOW_LINKS);
  }
}
