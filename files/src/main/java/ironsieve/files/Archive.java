package ironsieve.files;

import ironsieve.text.FileTextException;
import ironsieve.text.SourceText;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;

/**
 * A workspace as one file: a zip of the files of a company's folder, and one that says which
 * version of the format it is. What says the same is the same to the byte.
 */
public final class Archive {

  /** The version of the format that is written, and the newest that can be read. */
  public static final int VERSION = 1;

  /**
   * The most that the files of an archive may be together once they are unpacked, in bytes: 512 MB,
   * or an eighth of the memory there is, for they are held as text and then as records.
   */
  public static final long MOST_BYTES = Math.min(512L << 20, Runtime.getRuntime().maxMemory() / 8);

  private static final int MOST_FILES = 10_000;
  private static final String VERSION_FILE = "archive.txt";

  /** Any moment, so long as it is always the same; the zip format knows none before 1980. */
  private static final LocalDateTime MOMENT = LocalDateTime.of(2000, 1, 1, 0, 0);

  private Archive() {}

  /** An archive of files, by their paths. */
  public static byte[] write(SortedMap<String, String> files) {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(bytes, StandardCharsets.UTF_8)) {
      put(zip, VERSION_FILE, "iron sieve archive " + VERSION + "\n");
      for (Map.Entry<String, String> file : files.entrySet()) {
        put(zip, file.getKey(), file.getValue());
      }
    } catch (IOException e) {
      throw new IllegalStateException("nothing is written to but memory", e);
    }
    return bytes.toByteArray();
  }

  private static void put(ZipOutputStream zip, String path, String text) throws IOException {
    ZipEntry entry = new ZipEntry(path);
    entry.setTimeLocal(MOMENT);
    zip.putNextEntry(entry);
    zip.write(text.getBytes(StandardCharsets.UTF_8));
    zip.closeEntry();
  }

  /**
   * The files of an archive, by their paths. Nothing is written anywhere.
   *
   * @throws FaultException if it is none, was made by a newer version, is too large unpacked, or
   *     names a path outside itself
   */
  public static SortedMap<String, String> read(InputStream in) {
    SortedMap<String, String> files = new TreeMap<>();
    long left = MOST_BYTES;
    try (ZipInputStream zip = new ZipInputStream(in, StandardCharsets.UTF_8)) {
      for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
        if (entry.isDirectory()) {
          continue;
        }
        demandPath(entry.getName());
        if (files.size() >= MOST_FILES) {
          throw fault("it has more than " + MOST_FILES + " files");
        }
        byte[] bytes = zip.readNBytes((int) Math.min(Integer.MAX_VALUE - 8, left + 1));
        left -= bytes.length;
        if (left < 0) {
          throw fault(
              "unpacked it is more than "
                  + (MOST_BYTES >> 20)
                  + " MB, which is no archive of ours");
        }
        if (files.put(entry.getName(), text(entry.getName(), bytes)) != null) {
          throw fault("it has the file " + entry.getName() + " twice");
        }
      }
    } catch (ZipException e) {
      throw fault("it is damaged: " + e.getMessage());
    } catch (IOException e) {
      throw fault("it ends in the middle or cannot be read: " + e.getMessage());
    } catch (IllegalArgumentException e) {
      throw fault("it has file names that are no UTF-8");
    }
    demandVersion(files.remove(VERSION_FILE));
    return files;
  }

  private static String text(String path, byte[] bytes) {
    try {
      return SourceText.read(bytes);
    } catch (FileTextException e) {
      throw new FaultException(path, "", e.getMessage());
    }
  }

  private static void demandPath(String path) {
    boolean leaves =
        path.startsWith("/")
            || path.contains("\\")
            || path.contains(":")
            || java.util.Arrays.asList(path.split("/")).contains("..");
    if (leaves) {
      throw fault("it names \"" + path + "\", which lies outside of it");
    }
  }

  private static void demandVersion(String said) {
    if (said == null || !said.startsWith("iron sieve archive ")) {
      throw fault("it is no archive of this application: the file " + VERSION_FILE + " is missing");
    }
    String version = said.substring("iron sieve archive ".length()).trim();
    if (!version.matches("[0-9]{1,6}") || Integer.parseInt(version) > VERSION) {
      throw fault(
          "it was made by a newer version of this application (format "
              + version
              + "; this one reads up to "
              + VERSION
              + ")");
    }
  }

  private static FaultException fault(String message) {
    return new FaultException("archive", "", message);
  }
}
