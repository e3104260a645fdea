package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.draft.Drafter;
import dev.dusky.core.draft.FeedDraft;
import dev.dusky.core.draft.FileGroups;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.depots.directory.DirectoryDepot;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Files of several shapes in one place become feeds that do not take each other's files. */
class FileGroupsTest {

  @TempDir Path folder;

  private void file(String path, String text) throws IOException {
    Files.createDirectories(folder.resolve(path).getParent());
    Files.writeString(folder.resolve(path), text, StandardCharsets.ISO_8859_1);
  }

  private FileGroups groups() {
    DirectoryDepot depot = new DirectoryDepot("yard", folder);
    List<StagedFile> files = new ArrayList<>();
    depot.list("").forEachRemaining(files::add);
    return FileGroups.of(depot, files);
  }

  private static Map<String, List<String>> paths(FileGroups groups) {
    Map<String, List<String>> paths = new TreeMap<>();
    groups
        .groups()
        .forEach((name, files) -> paths.put(name, files.stream().map(StagedFile::path).toList()));
    return paths;
  }

  @Test
  void filesOfOneFolderAreToldByTheirContent() throws IOException {
    file("in/collect_1.csv", "id,name\n1,a\n");
    file("in/collect_2.csv", "id,name\n2,b\n");
    file("in/assay_1.csv", "code;litres;x\nA;1.5;z\n");
    file("in/more.csv", "code;litres;x\nB;2.5;z\n");
    assertEquals(
        Map.of(
            "assay", List.of("in/assay_1.csv"),
            "collect", List.of("in/collect_1.csv", "in/collect_2.csv"),
            "more", List.of("in/more.csv")),
        paths(groups()));
  }

  @Test
  void filesOfOneShapeStayTogetherWhateverTheirNames() throws IOException {
    for (String name : List.of("brook", "weir", "mill")) {
      file("farms/" + name + ".csv", "id,name\n1," + name + "\n");
    }
    assertEquals(List.of("farms"), List.copyOf(groups().groups().keySet()));
  }

  @Test
  void noTwoGroupsTakeTheSameFile() throws IOException {
    Random random = new Random(11);
    String[] headers = {"a,b\n1,2\n", "x;y;z\n1;2;3\n", "{\"a\":1}\n", "q|r\n1|2\n"};
    for (int round = 0; round < 30; round++) {
      for (int i = 0; i < 12; i++) {
        String name =
            "in/r" + round + "/" + "abc".charAt(random.nextInt(3)) + "x_".repeat(random.nextInt(2));
        file(name + random.nextInt(20) + ".csv", headers[random.nextInt(headers.length)]);
      }
    }
    FileGroups groups = groups();
    Map<String, FilePattern> patterns = new TreeMap<>();
    groups
        .groups()
        .forEach(
            (name, files) ->
                patterns.put(
                    name,
                    FilePattern.of(
                        dev.dusky.core.draft.PatternGuess.pattern(
                            files.stream().map(StagedFile::path).toList()))));
    groups
        .groups()
        .forEach(
            (name, files) ->
                files.forEach(
                    file -> assertTrue(patterns.get(name).matches(file.path()), file.path())));
    assertFalse(groups.groups().isEmpty());
  }

  private List<FeedDraft> draft(String path, byte[] bytes) throws IOException {
    Files.createDirectories(folder.resolve(path).getParent());
    Files.write(folder.resolve(path), bytes);
    DirectoryDepot depot = new DirectoryDepot("yard", folder);
    return new Drafter(depot, "intake", List.of())
        .draft("odd", List.of(depot.look(path).orElseThrow()));
  }

  @Test
  void memberNamesOfAnyKindAreDrafted() throws IOException {
    String text = "{\"1a\":1,\"b c\":{\"2d\":\"x\",\"e.f\":[{\"3\":1},{\"3\":2}]}}\n";
    List<FeedDraft> drafts = draft("in/odd.json", (text + text).getBytes(StandardCharsets.UTF_8));
    assertFalse(drafts.isEmpty());
    String nested = "{\"9rows\":[{\"a\":1},{\"a\":2}]}";
    assertFalse(draft("in/doc.json", nested.getBytes(StandardCharsets.UTF_8)).isEmpty());
  }

  @ParameterizedTest
  @ValueSource(strings = {" \",", "\"", ",", "#", "\u00c5", "{", "<", "\u0000", "a\r\r\nb\r\r\n"})
  void oddBytesAreDraftedOrRefusedAndNothingElse(String text) throws IOException {
    try {
      draft("in/a.csv", text.getBytes(StandardCharsets.ISO_8859_1));
    } catch (Failure failure) {
      assertEquals(Failure.Kind.FILE, failure.kind());
    }
  }

  @Test
  void aLoneFileIsMarked() throws IOException {
    FeedDraft draft =
        draft("in/a.csv", "id,name\n1,a\n2,b\n".getBytes(StandardCharsets.UTF_8)).get(0);
    assertTrue(draft.evidence().stream().anyMatch(e -> e.about().equals("files") && e.doubtful()));
    assertThrows(
        Failure.class, () -> draft("in/none.csv", new byte[0]), "an empty file has nothing");
  }

  @Test
  void aFewBadRowsBehindTheFirstThousandsAreSeen() throws IOException {
    StringBuilder text = new StringBuilder("id,litres\n");
    for (int i = 0; i < 46_000; i++) {
      text.append(i).append(i == 40_000 || i == 45_000 ? ",none\n" : ",12.5\n");
    }
    FeedDraft draft = draft("in/b.csv", text.toString().getBytes(StandardCharsets.UTF_8)).get(0);
    assertEquals(46_000, draft.read());
    assertTrue(
        draft.feed().tolerance().allows(draft.rejected(), draft.read()),
        draft.evidence()::toString);
  }
}
