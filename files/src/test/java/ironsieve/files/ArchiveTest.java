package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.PersonDoc;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ArchiveTest {

  private static SortedMap<String, String> written(CompanyFolder folder) {
    CompanyFolder.CompanyFile file = folder.company();
    SortedMap<Integer, List<ApplicationDoc>> editions = new TreeMap<>();
    file.editions().forEach(edition -> editions.put(edition, folder.applications(edition)));
    List<CompanyWriter.Written> rulebases =
        file.rulebases().stream()
            .map(
                id ->
                    new CompanyWriter.Written(
                        folder.contents(id), file.archived().contains(id), folder.tapes(id)))
            .toList();
    return CompanyWriter.files(folder.workspace(), editions, rulebases);
  }

  private static CompanyFolder folder(SortedMap<String, String> files) {
    return new CompanyFolder(
        path ->
            Optional.ofNullable(files.get(path))
                .map(text -> new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8))));
  }

  @Test
  void whatIsWrittenIsReadBackAndWrittenTheSame() {
    CompanyFolder demo = Demo.folder();
    SortedMap<String, String> once = written(demo);
    byte[] archive = Archive.write(once);
    SortedMap<String, String> read = Archive.read(new ByteArrayInputStream(archive));
    assertThat(read).isEqualTo(once);
    CompanyFolder again = folder(read);
    assertThat(again.workspace()).isEqualTo(demo.workspace());
    for (String id : demo.company().rulebases()) {
      assertThat(again.contents(id).saysTheSame(demo.contents(id))).as(id).isTrue();
      assertThat(again.tapes(id)).isEqualTo(demo.tapes(id));
    }
    assertThat(Archive.write(written(again))).isEqualTo(archive);
  }

  @Test
  void strangeNamesKeepToTheirPlaces() {
    WorkspaceContents workspace = Demo.folder().workspace();
    workspace.put(
        WorkspaceKind.ADDRESS_LIST, new AddressListDoc("../../etc: a/b%?", List.of("10.0.0.1")));
    workspace.put(
        WorkspaceKind.PERSON,
        new PersonDoc("łucja", "=SUM(A1) \"Ł\", x", List.of("Staff"), Map.of("home port", "Łeba")));
    workspace.put(
        WorkspaceKind.APPLICATION,
        new ApplicationDoc(
            "Own one",
            "own",
            "",
            "",
            "slight",
            "core",
            "plain",
            List.of("tcp/8443"),
            List.of("TLS"),
            List.of(),
            List.of("view"),
            "Ours.",
            List.of("server name under own.example", "feature view: method is GET")));
    Contents rulebase = Demo.folder().contents("main-gateway");
    rulebase.put(
        RecordKind.ACCEPTED,
        new AcceptedDoc("gw-admin", "lock out", "two\nlines", "agreed", "Wanda"));
    SortedMap<String, String> files =
        CompanyWriter.files(
            workspace,
            new TreeMap<>(Map.of(41, Demo.folder().applications(41))),
            List.of(new CompanyWriter.Written(rulebase, true, Map.of("a/b", "at,from\n"))));
    assertThat(files.keySet()).noneMatch(path -> List.of(path.split("/")).contains(".."));
    CompanyFolder again = folder(Archive.read(new ByteArrayInputStream(Archive.write(files))));
    assertThat(again.workspace()).isEqualTo(workspace);
    assertThat(again.contents("main-gateway").saysTheSame(rulebase)).isTrue();
    assertThat(again.company().archived()).containsExactly("main-gateway");
    assertThat(again.tapes("main-gateway")).isEqualTo(Map.of("a/b", "at,from\n"));
  }

  private static byte[] zip(String... pathsAndTexts) {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(bytes)) {
      for (int i = 0; i < pathsAndTexts.length; i += 2) {
        zip.putNextEntry(new ZipEntry(pathsAndTexts[i]));
        zip.write(pathsAndTexts[i + 1].getBytes(StandardCharsets.UTF_8));
      }
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
    return bytes.toByteArray();
  }

  @ParameterizedTest
  @CsvSource({
    "../etc/passwd, lies outside of it",
    "/etc/passwd, lies outside of it",
    "a/../../b, lies outside of it",
    "C:x, lies outside of it",
    "a\\b, lies outside of it"
  })
  void aPathOutsideOfItIsRefused(String path, String why) {
    assertThatThrownBy(
            () ->
                Archive.read(
                    new ByteArrayInputStream(
                        zip("archive.txt", "iron sieve archive 1", path, "x"))))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining(why);
  }

  @Test
  void whatIsNoneOrNewerOrDamagedIsToldAsThat() {
    assertThatThrownBy(() -> Archive.read(new ByteArrayInputStream(zip("a", "b"))))
        .hasMessageContaining("no archive of this application");
    assertThatThrownBy(
            () ->
                Archive.read(
                    new ByteArrayInputStream(zip("archive.txt", "iron sieve archive 2\n"))))
        .hasMessageContaining("newer version");
    assertThatThrownBy(() -> Archive.read(new ByteArrayInputStream("<html>".getBytes())))
        .hasMessageContaining("no archive of this application");
    byte[] whole = Archive.write(new TreeMap<>(Map.of("x", "y".repeat(100_000))));
    for (int length : new int[] {whole.length / 2, 40}) {
      byte[] half = java.util.Arrays.copyOf(whole, length);
      assertThatThrownBy(() -> Archive.read(new ByteArrayInputStream(half)))
          .isInstanceOf(FaultException.class);
    }
  }

  @Test
  void aBombIsRefusedBeforeItIsUnpacked() throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    byte[] zeros = new byte[1 << 20];
    java.util.Arrays.fill(zeros, (byte) ' ');
    try (ZipOutputStream zip = new ZipOutputStream(bytes)) {
      for (int file = 0; file < 5; file++) {
        zip.putNextEntry(new ZipEntry("file" + file));
        for (int i = 0; i < 128; i++) {
          zip.write(zeros);
        }
      }
    }
    assertThat(bytes.size()).isLessThan(2 << 20);
    assertThatThrownBy(() -> Archive.read(new ByteArrayInputStream(bytes.toByteArray())))
        .hasMessageContaining("unpacked it is more than " + (Archive.MOST_BYTES >> 20) + " MB");
  }
}
