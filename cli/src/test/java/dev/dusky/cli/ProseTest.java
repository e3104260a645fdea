package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/**
 * Documentation, help, messages and Javadoc are plain technical English: no phrase of this list.
 */
class ProseTest {

  /** Each phrase, and what to write instead. */
  private static final Map<String, String> PHRASES =
      new TreeMap<>(
          Map.ofEntries(
              Map.entry("(?:is|are|was|were|be|been) told", "report, detect"),
              Map.entry("told (?:by|of|apart|from|at|together|that)", "detect, distinguish"),
              Map.entry("tells", "show, report, distinguish"),
              Map.entry("(?:it|they|what|which|who)s? (?:can|cannot) tell", "show, detect"),
              Map.entry("of (?:its|their|his) own", "its own X, a separate X"),
              Map.entry("so many|so often|so much of", "a number of, the maximum of"),
              Map.entry("for ever", "permanently"),
              Map.entry("pass(?:es|ed|ing)? over (?!it\\b)", "skip"),
              Map.entry("lets? (?:it |them )?go (?:of|on)", "release, resume"),
              Map.entry("go(?:es)? on", "continue"),
              Map.entry("held against", "compare with"),
              Map.entry("ways? out", "remedy"),
              Map.entry("(?:is|are) dear", "expensive"),
              Map.entry("anew", "again"),
              Map.entry("turned away", "refuse"),
              Map.entry("stands? (?:for|in|at|alone|there|twice|before|behind)", "mean, be"),
              Map.entry("(?:it|they|what|who) stands?", "be"),
              Map.entry("(?<!there )(?:is|are) no (?!longer|more|such)[a-z]+", "is not a"),
              Map.entry("as (?:it|they|one) wants?", "as declared"),
              Map.entry("(?:keeps?|balances?|proves?) (?:the )?books", "the ledger"),
              Map.entry("books balance", "the ledger balances"),
              Map.entry("unfolds?", "decompress"),
              Map.entry("deal(?:s|t)? with", "process, handle"),
              Map.entry("in hand", "current"),
              Map.entry("whoever", "name the person or process"),
              Map.entry("miss(?:es)? (?:its|their) mark", "target not met"),
              Map.entry("side by side", "concurrently, in parallel"),
              Map.entry("beforehand|thereof|therein|whence", "plain words"),
              Map.entry("it is said|is said to", "a remark says"),
              Map.entry("met again", "found again"),
              Map.entry("looked at at once", "checked immediately"),
              Map.entry("to dispose of|makes good", "plain words")));

  private static final Pattern WORDS =
      Pattern.compile(
          "(?i)\\b(?:" + String.join("|", PHRASES.keySet()) + ")\\b", Pattern.UNICODE_CASE);

  /** Comments and string literals of Java. */
  private static final Pattern TEXT =
      Pattern.compile(
          "\"\"\".*?\"\"\"|\"(?:\\\\.|[^\"\\\\\\n])*\"|'(?:\\\\.|[^'\\\\\\n])+'|/\\*.*?\\*/|//[^\\n]*",
          Pattern.DOTALL);

  private static final Path ROOT = Path.of("..");

  @Test
  void documentationIsPlainEnglish() throws IOException {
    List<Path> pages = new ArrayList<>();
    for (String page : List.of("README.md", "CONTRIBUTING.md", "CHANGELOG.md")) {
      pages.add(ROOT.resolve(page));
    }
    pages.addAll(files(ROOT.resolve("docs"), ".md"));
    assertTrue(pages.size() > 15, pages::toString);
    List<String> found = new ArrayList<>();
    for (Path page : pages) {
      found.addAll(phrases(page, Files.readString(page)));
    }
    assertEquals("", String.join("\n", found));
  }

  @Test
  void helpMessagesAndCommentsArePlainEnglish() throws IOException {
    List<Path> sources = new ArrayList<>();
    try (Stream<Path> modules = Files.list(ROOT)) {
      for (Path module : modules.filter(m -> Files.isDirectory(m.resolve("src/main"))).toList()) {
        sources.addAll(files(module.resolve("src/main"), ".java"));
        sources.addAll(files(module.resolve("src/main"), ".yaml"));
      }
    }
    assertTrue(sources.size() > 600, () -> sources.size() + " files");
    List<String> found = new ArrayList<>();
    for (Path source : sources) {
      String text = Files.readString(source);
      found.addAll(phrases(source, source.toString().endsWith(".java") ? prose(text) : text));
    }
    assertEquals("", String.join("\n", found));
  }

  @Test
  void thePhrasesAreFoundWhereverALineBreaks() {
    assertEquals(1, phrases(Path.of("x"), "the feed is\n   * told about it").size());
    assertEquals(1, phrases(Path.of("x"), prose("int a; // of its own")).size());
    assertEquals(0, phrases(Path.of("x"), prose("int anew = 1; String s;")).size());
    assertEquals(0, phrases(Path.of("x"), "there is no file, and it is no longer used").size());
  }

  private static List<Path> files(Path folder, String ending) throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      return all.filter(f -> f.toString().endsWith(ending)).sorted().toList();
    }
  }

  /** The comments and literals of a source, in their order. */
  private static String prose(String source) {
    StringBuilder prose = new StringBuilder();
    TEXT.matcher(source)
        .results()
        .map(MatchResult::group)
        .forEach(t -> prose.append(t).append('\n'));
    return prose.toString();
  }

  private static List<String> phrases(Path where, String text) {
    String running = text.replaceAll("\\s*\\n[ \\t]*(?:\\*(?!/)|//)?[ \\t]*", " ");
    return WORDS
        .matcher(running)
        .results()
        .map(m -> where + ": " + context(running, m.start(), m.end()))
        .toList();
  }

  private static String context(String text, int from, int to) {
    return text.substring(Math.max(0, from - 40), Math.min(text.length(), to + 30));
  }
}
