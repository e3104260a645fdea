package dev.dusky.engine;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.function.Consumer;
import org.apache.spark.api.java.JavaPairRDD;
import org.apache.spark.api.java.JavaSparkContext;
import org.apache.spark.sql.SparkSession;
import scala.Tuple2;

/**
 * Attempts at files, spread over the engine's machines, each part by the program's own classes.
 * Where repeats are looked for among the rows of all files, the hashes of the rows are brought
 * together first, those that are the same on one machine.
 */
final class Attempts {

  /** Buckets of hashes for each part, so that one is small. */
  private static final int BUCKETS = 2;

  private static final int LEAST_BUCKETS = 8;

  private Attempts() {}

  /** Runs a request; a row for each part, in their order. */
  static void run(
      SparkSession session, JsonNode request, ObjectNode template, Consumer<ObjectNode> rows) {
    List<String> texts = texts(request.path("parts"));
    if (texts.isEmpty()) {
      return;
    }
    JavaSparkContext engine = JavaSparkContext.fromSparkContext(session.sparkContext());
    Attempt attempt =
        new Attempt(
            Program.on(session.sparkContext(), texts(request.path("classes"))),
            request.path("worker").asText(),
            Base64.getDecoder().decode(request.path("order").asText()));
    JavaPairRDD<Integer, byte[]> parts = engine.parallelizePairs(numbered(texts, 0), texts.size());
    List<String> landed = texts(request.path("landed"));
    JavaPairRDD<Integer, byte[]> surveyed =
        landed.isEmpty()
            ? parts
            : parts.union(engine.parallelizePairs(numbered(landed, -landed.size()), landed.size()));
    JavaPairRDD<Integer, byte[]> reports =
        request.path("among").asBoolean()
            ? parts
                .cogroup(left(attempt, surveyed, texts.size() + landed.size()), texts.size())
                .mapToPair(
                    part ->
                        new Tuple2<>(
                            part._1, attempt.run(part._2._1.iterator().next(), list(part._2._2))))
            : parts.mapValues(part -> attempt.run(part, List.of()));
    List<Tuple2<Integer, byte[]>> collected = new ArrayList<>(reports.collect());
    collected.sort((a, b) -> Integer.compare(a._1, b._1));
    for (Tuple2<Integer, byte[]> report : collected) {
      rows.accept(template.deepCopy().put("row", Base64.getEncoder().encodeToString(report._2)));
    }
  }

  /** Parts with their numbers. Those of the landing table have numbers below 0. */
  private static List<Tuple2<Integer, byte[]>> numbered(List<String> texts, int first) {
    List<Tuple2<Integer, byte[]>> numbered = new ArrayList<>();
    for (String text : texts) {
      numbered.add(new Tuple2<>(first + numbered.size(), Base64.getDecoder().decode(text)));
    }
    return numbered;
  }

  /** The rows of each part that are left out. */
  private static JavaPairRDD<Integer, byte[]> left(
      Attempt attempt, JavaPairRDD<Integer, byte[]> parts, int count) {
    int buckets = Math.max(LEAST_BUCKETS, BUCKETS * count);
    return parts
        .flatMapToPair(
            part -> {
              byte[][] rows = attempt.survey(part._2, buckets);
              List<Tuple2<Integer, Tuple2<Integer, byte[]>>> all = new ArrayList<>();
              for (int bucket = 0; bucket < buckets; bucket++) {
                if (rows[bucket].length > 0) {
                  all.add(new Tuple2<>(bucket, new Tuple2<>(part._1, rows[bucket])));
                }
              }
              return all.iterator();
            })
        .groupByKey(Math.min(buckets, count * BUCKETS))
        .flatMapToPair(bucket -> attempt.resolve(list(bucket._2)).iterator());
  }

  private static <T> List<T> list(Iterable<T> values) {
    List<T> list = new ArrayList<>();
    values.forEach(list::add);
    return list;
  }

  /** The texts of an array. */
  static List<String> texts(JsonNode array) {
    List<String> texts = new ArrayList<>();
    array.forEach(text -> texts.add(text.asText()));
    return texts;
  }
}
