package dev.dusky.app.report;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.app.workspace.UnusualFiles;
import dev.dusky.core.balance.FeedBalance;
import dev.dusky.core.balance.MergeBalance;
import dev.dusky.core.ledger.FileState;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Finds what needs a person. */
final class Needs {

  private final List<Need> needs = new ArrayList<>();

  /** All that was found, faults first. */
  List<Need> all() {
    needs.sort(Comparator.comparing(need -> !need.fault()));
    return List.copyOf(needs);
  }

  /** Adds files of the last day with an unusual volume. */
  void addUnusual(List<UnusualFiles.Unusual> files) {
    for (UnusualFiles.Unusual file : files) {
      String words = "%s: %s.".formatted(file.volume().path(), file.words());
      note(file.feed(), words, "files %s --unusual".formatted(file.feed()));
    }
  }

  /** Adds what feeds need. A depot that does not answer is one need, whatever its feeds. */
  void addAll(List<FeedStatus> feeds) {
    Map<String, List<String>> causes = new LinkedHashMap<>();
    for (FeedStatus feed : feeds) {
      feed.unlisted()
          .ifPresent(why -> causes.computeIfAbsent(why, w -> new ArrayList<>()).add(feed.feed()));
    }
    causes.forEach(
        (why, names) -> {
          String about =
              names.size() < 4
                  ? String.join(", ", names)
                  : "%s and %d other feeds".formatted(names.get(0), names.size() - 1);
          fault(about, "The depot cannot be listed: " + why, "probe");
        });
    feeds.forEach(this::add);
  }

  private void add(FeedStatus feed) {
    String name = feed.feed();
    feed.watched()
        .filter(watched -> watched.failures() > 0)
        .flatMap(watched -> watched.failure())
        .filter(why -> feed.unlisted().isEmpty())
        .ifPresent(why -> fault(name, "Loading fails: " + why, "watch --status"));
    if (feed.missing() > 0) {
      fault(
          name,
          Figures.plural(feed.missing(), "file") + " did not come.",
          "files %s --missing".formatted(name));
    }
    held(feed, FileState.REFUSED, "refused");
    held(feed, FileState.REVISED, "changed after posting");
    feed.pause().ifPresent(pause -> note(name, "The feed is " + pause + ".", "resume " + name));
    long open = feed.posted().openRejects();
    if (open > 0) {
      note(name, Figures.plural(open, "reject") + " open.", "rejects " + name);
    }
  }

  private void held(FeedStatus feed, FileState state, String words) {
    long files = feed.states().getOrDefault(state, 0L);
    if (files > 0) {
      String command = "files %s --state %s".formatted(feed.feed(), state.label());
      fault(feed.feed(), "%s %s.".formatted(Figures.plural(files, "file"), words), command);
    }
  }

  void add(FeedBalance balance) {
    String name = balance.feed().name();
    if (!balance.tablesAgree()) {
      fault(name, "Ledger and table do not agree.", "balance " + name);
    }
  }

  void add(MergeBalance balance) {
    String name = balance.merge().name();
    if (!balance.agrees()) {
      fault(name, "Ledger and target do not agree.", "balance " + name);
    }
    balance
        .proof()
        .filter(proof -> proof.rejectsOpen() > 0)
        .ifPresent(
            proof ->
                note(
                    name,
                    Figures.plural(proof.rejectsOpen(), "reject") + " of the merge open.",
                    "journal " + name));
  }

  private void fault(String about, String words, String command) {
    needs.add(new Need(about, true, words, "dusky " + command));
  }

  private void note(String about, String words, String command) {
    needs.add(new Need(about, false, words, "dusky " + command));
  }
}
