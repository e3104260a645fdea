package dev.dusky.cli.demo;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;

/** The short demo: one sentence, one command and the telling part of its output for each step. */
final class Tour {

  private final DemoFolder folder;
  private final Narration story;

  Tour(DemoFolder folder, Narration story) {
    this.folder = folder;
    this.story = story;
  }

  void tell() throws IOException {
    arrive();
    repair();
    lateFile();
    merge();
    story.step("Prove it: the ledger is compared with the tables, the targets and the depot.");
    story.dusky(
        Excerpt.with(
            "into ", "collections", "rows ", "rejects ", "history ", "the ledger balances"),
        "balance",
        "collections",
        "farm");
  }

  private void arrive() {
    story.step("Stage: upload the files of two days to the depot, an object store.");
    story.dusky(Excerpt.with("02/07", "registry", "fleet", "yard  "), "stage", "yard", "outbox");
    story.step("Look: read a file before anything is declared. The layout is inferred.");
    story.dusky(Excerpt.ALL, "peek", "yard:tankers/fleet-2026-03-01.txt", "-n", "3");
    story.step("Draft: infer a feed from its files, with the evidence for each decision.");
    story.dusky(
        Excerpt.first(20),
        "draft",
        "yard:collections/",
        "--column",
        "farm_code=varchar(8) not null");
    story.step("Draft the other files: JSON, pipes, fixed width, a workbook, Parquet.");
    story.dusky(Excerpt.ALL, "draft", "yard:");
    story.step("Load: each file in one transaction. One file was sent twice under two names.");
    story.dusky(
        Excerpt.with("02/05.csv", "twin ", "collections  read", "load 1:", "farms  read"), "load");
  }

  private void repair() throws IOException {
    story.step("Rejects: what was rejected, where and why, with remedies.");
    story.dusky(Excerpt.first(8), "rejects", "collections");
    story.step("Mend: export rejects, correct them in an editor, and load them.");
    story.dusky(
        Excerpt.ALL,
        "rejects",
        "export",
        "collections",
        "--column",
        "litres",
        "--to",
        "repair/litres");
    Path file = folder.root().resolve("repair/litres.csv");
    String text = Files.readString(file, StandardCharsets.UTF_8);
    Files.writeString(file, text.replace("8l2.5", "812.5"), StandardCharsets.UTF_8);
    story.say("(in repair/litres.csv, 8l2.5 is corrected to 812.5)");
    story.dusky(Excerpt.ALL, "mend", "repair/litres.csv");
  }

  private void lateFile() throws IOException {
    story.step("A late file arrives, and its twin. Only the late file is loaded.");
    Path late = folder.root().resolve("late/collections/2026-03-02");
    Files.copy(late.resolve("10.csv.gz"), late.resolve("10_resent.csv.gz"));
    story.dusky(Excerpt.ALL, "stage", "yard", "late");
    story.dusky(Excerpt.ALL, "load", "collections");
  }

  private void merge() throws IOException {
    TrustedTables tables = new TrustedTables(folder, story);
    tables.prepare();
    story.step("Merge: landed rows into a dimension with history and its facts, by key.");
    story.dusky(Excerpt.with("yard  "), "stage", "yard", "days/tenth");
    story.dusky(
        Excerpt.with("dockets  read", "registry  read"), "load", "registry", "dockets", "results");
    story.leaving(Excerpt.with("landed", "unknown-key", "--retry"), "merge");
    story.step("The registry of the ninth arrives a day late. What would it change?");
    story.dusky(Excerpt.with("yard  "), "stage", "yard", "days/ninth");
    story.dusky(
        Excerpt.with("dockets  read", "registry  read"), "load", "registry", "dockets", "results");
    story.dusky(Excerpt.first(8), "merge", "farm", "--rehearse", "--changes", "1");
    story.step("Merge: late versions are inserted at their position in the history.");
    story.dusky(Excerpt.with("landed"), "merge");
    story.dusky(Excerpt.with("landed"), "merge", "collection", "--retry");
    story.dusky(
        Excerpt.ALL,
        "sql",
        "select farm_code, name, valid_from, valid_to, is_current from dairy.farm"
            + " where farm_code in ('WF0007', 'WF0012') order by farm_code, valid_from");
  }
}
