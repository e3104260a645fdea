package dev.dusky.depots.queue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.notice.Notice;
import dev.dusky.core.notice.NoticeQueue;
import dev.dusky.depots.probe.ConnectionCause;
import dev.dusky.depots.s3.S3Connection;
import java.io.IOException;
import java.net.URI;
import java.time.Duration;
import java.util.List;
import java.util.function.Supplier;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.services.sqs.SqsClient;
import software.amazon.awssdk.services.sqs.model.MessageNotInflightException;
import software.amazon.awssdk.services.sqs.model.ReceiptHandleIsInvalidException;
import software.amazon.awssdk.services.sqs.model.SqsException;

/** A queue of the SQS protocol. */
public final class SqsQueue implements NoticeQueue {

  private static final int MOST = 10;

  private final QueueAddress address;
  private final SqsClient client;

  /** A queue; nothing is reached before it is used. */
  public SqsQueue(QueueAddress address) {
    this.address = address;
    var builder = S3Connection.queue(address.access(), address.region().orElse("us-east-1"));
    address.access().endpoint().map(URI::create).ifPresent(builder::endpointOverride);
    this.client = builder.build();
  }

  @Override
  public String place() {
    return address.toString();
  }

  @Override
  public List<Notice> receive(Duration wait, Duration hidden) {
    return call(
        "Receiving notices",
        () ->
            client
                .receiveMessage(
                    request ->
                        request
                            .queueUrl(address.url())
                            .maxNumberOfMessages(MOST)
                            .waitTimeSeconds((int) wait.toSeconds())
                            .visibilityTimeout((int) hidden.toSeconds()))
                .messages()
                .stream()
                .map(m -> new Notice(m.messageId(), m.receiptHandle(), m.body()))
                .toList());
  }

  @Override
  public void hide(Notice notice, Duration hidden) {
    call(
        "Extending a notice",
        () -> {
          try {
            return client.changeMessageVisibility(
                request ->
                    request
                        .queueUrl(address.url())
                        .receiptHandle(notice.receipt())
                        .visibilityTimeout((int) hidden.toSeconds()));
          } catch (MessageNotInflightException | ReceiptHandleIsInvalidException e) {
            return null; // it is delivered again, or was deleted: nothing is lost
          }
        });
  }

  @Override
  public void delete(Notice notice) {
    call(
        "Deleting a notice",
        () ->
            client.deleteMessage(
                request -> request.queueUrl(address.url()).receiptHandle(notice.receipt())));
  }

  private <T> T call(String doing, Supplier<T> work) {
    try {
      return work.get();
    } catch (SqsException e) {
      throw refused(doing, e);
    } catch (SdkException e) {
      for (Throwable cause = e; cause != null; cause = cause.getCause()) {
        if (cause instanceof Failure known) {
          throw known;
        }
        if (cause instanceof IOException) {
          throw ConnectionCause.failure(address.access(), e);
        }
      }
      throw Failure.depot(doing + " from " + address + " failed")
          .because(String.valueOf(e.getMessage()))
          .hint("Check queue:, region: and credentials: under notices")
          .from(e);
    }
  }

  private Failure refused(String doing, SqsException e) {
    String code = e.awsErrorDetails() == null ? "" : e.awsErrorDetails().errorCode();
    String says = e.awsErrorDetails() == null ? "" : e.awsErrorDetails().errorMessage();
    boolean unknown = code.contains("NonExistentQueue") || code.contains("QueueDoesNotExist");
    return Failure.depot(
            unknown ? "There is no queue " + address : doing + " from " + address + " failed")
        .because("the queue answered %d %s, \"%s\"".formatted(e.statusCode(), code, says))
        .hint(
            unknown
                ? "Correct queue: under notices; it is sqs:// with host and path of the queue's URL"
                : "The identity needs sqs:ReceiveMessage, sqs:DeleteMessage and"
                    + " sqs:ChangeMessageVisibility on the queue")
        .from(e);
  }

  @Override
  public void close() {
    client.close();
  }
}
