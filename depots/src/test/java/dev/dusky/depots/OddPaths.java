package dev.dusky.depots;

import java.util.List;
import java.util.function.Predicate;

/** Paths that are legal in object stores, and break what is not written with care. */
public final class OddPaths {

  /** All of them. */
  public static final List<String> ALL =
      List.of(
          " leading and trailing blank ",
          "a+b.csv",
          "100%.csv",
          "a%20b%2Fc.csv",
          "a#b.csv",
          "a?b=c.csv",
          "a&b;c.csv",
          "it's \"quoted\".csv",
          "tab\there.csv",
          "line\nbreak.csv",
          "bell\u0007.csv",
          "caf\u00e9.csv",
          "cafe\u0301.csv",
          "\u65e5\u672c/\ud83d\udc04.csv",
          "~[a]{b}^`|<c>.csv",
          "a\\b.csv",
          "x/../y.csv",
          "x//y.csv",
          "x/./y.csv",
          "k".repeat(200) + "/" + ("n".repeat(204) + "/").repeat(4) + "z".repeat(3));

  private OddPaths() {}

  /** Those that some stores can have. */
  public static List<String> with(Predicate<String> possible) {
    return ALL.stream().filter(possible).toList();
  }

  /** Whether a path has a name in it that a file system gives a meaning to. */
  public static boolean resolved(String path) {
    return List.of(path.split("/", -1)).stream()
        .anyMatch(name -> name.isEmpty() || name.equals(".") || name.equals(".."));
  }
}
