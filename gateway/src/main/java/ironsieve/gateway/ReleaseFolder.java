package ironsieve.gateway;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Digests;
import ironsieve.files.Manifest;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What a gateway keeps over a restart: who it is, parts, and what is in force. */
final class ReleaseFolder {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String IDENTITY = "gateway.json";
  private static final String IN_FORCE = "in-force.json";
  private static final String PORTS = "ports.json";

  private final Path folder;

  ReleaseFolder(Path folder) throws IOException {
    this.folder = Files.createDirectories(folder);
    Files.createDirectories(folder.resolve("parts"));
  }

  /** A gateway's name and key, and the public key that checks what it is told. */
  record Identity(String gateway, String key, String publicKey) {}

  /** What is in force, as the server signed it. */
  record InForce(String delivery, String signature, String manifest, String manifestSignature) {}

  Optional<Identity> identity() throws IOException {
    return read(IDENTITY, Identity.class);
  }

  /** Keeps who the gateway is, in a file that only its owner reads. */
  void keep(Identity identity) throws IOException {
    write(IDENTITY, identity);
  }

  Optional<InForce> inForce() throws IOException {
    return read(IN_FORCE, InForce.class);
  }

  void keep(InForce inForce) throws IOException {
    write(IN_FORCE, inForce);
  }

  /** On which port the clients of a zone come in. */
  record ZonePort(String zone, int port) {}

  List<ZonePort> ports() throws IOException {
    return read(PORTS, ZonePort[].class).map(List::of).orElse(List.of());
  }

  void keepPorts(List<ZonePort> ports) throws IOException {
    write(PORTS, ports);
  }

  private <T> Optional<T> read(String name, Class<T> type) throws IOException {
    Path file = folder.resolve(name);
    return Files.exists(file)
        ? Optional.of(JSON.readValue(Files.readString(file), type))
        : Optional.empty();
  }

  /** At once or not at all: whoever is killed meanwhile finds the old one. */
  private void write(String name, Object value) throws IOException {
    Path part =
        Files.createTempFile(
            folder,
            name,
            ".part",
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    Files.writeString(part, JSON.writeValueAsString(value));
    Files.move(
        part,
        folder.resolve(name),
        StandardCopyOption.ATOMIC_MOVE,
        StandardCopyOption.REPLACE_EXISTING);
  }

  private Path part(String digest) {
    return folder.resolve("parts").resolve(digest);
  }

  /** Whether a part is there, and is what its digest says. */
  boolean has(String digest) throws IOException {
    return Files.exists(part(digest))
        && Digests.of(Files.readAllBytes(part(digest))).equals(digest);
  }

  /** Keeps a part that is what its digest says. */
  void keepPart(String digest, String content) throws IOException {
    Path to = part(digest);
    Path beside = Files.writeString(to.resolveSibling(digest + ".part"), content);
    Files.move(beside, to, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
  }

  /** The parts of a release by name; all of them have to be there. */
  Map<String, String> texts(Manifest manifest) throws IOException {
    Map<String, String> texts = new TreeMap<>();
    for (Manifest.PartName one : manifest.parts()) {
      texts.put(one.name(), Files.readString(part(one.digest())));
    }
    return texts;
  }
}
