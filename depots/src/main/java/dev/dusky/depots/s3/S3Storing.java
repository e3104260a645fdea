package dev.dusky.depots.s3;

import dev.dusky.depots.address.Storing;
import dev.dusky.depots.transfer.ContentType;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import software.amazon.awssdk.core.SdkRequest;
import software.amazon.awssdk.core.interceptor.Context;
import software.amazon.awssdk.core.interceptor.ExecutionAttributes;
import software.amazon.awssdk.core.interceptor.ExecutionInterceptor;
import software.amazon.awssdk.http.SdkHttpRequest;
import software.amazon.awssdk.services.s3.model.CopyObjectRequest;
import software.amazon.awssdk.services.s3.model.CreateMultipartUploadRequest;
import software.amazon.awssdk.services.s3.model.PutObjectRequest;
import software.amazon.awssdk.services.s3.model.ServerSideEncryption;
import software.amazon.awssdk.services.s3.model.Tag;
import software.amazon.awssdk.services.s3.model.Tagging;

/** Adds to each request that stores an object what the depot declares about storing. */
final class S3Storing implements ExecutionInterceptor {

  private final Storing storing;

  S3Storing(Storing storing) {
    this.storing = storing;
  }

  @Override
  public SdkRequest modifyRequest(Context.ModifyRequest context, ExecutionAttributes attributes) {
    SdkRequest request = context.request();
    if (request instanceof PutObjectRequest put) {
      return put.toBuilder()
          .contentType(ContentType.of(put.key()))
          .serverSideEncryption(algorithm())
          .ssekmsKeyId(key())
          .storageClass(storing.storageClass().orElse(null))
          .tagging(tags())
          .build();
    }
    if (request instanceof CreateMultipartUploadRequest create) {
      return create.toBuilder()
          .contentType(ContentType.of(create.key()))
          .serverSideEncryption(algorithm())
          .ssekmsKeyId(key())
          .storageClass(storing.storageClass().orElse(null))
          .tagging(tags())
          .build();
    }
    if (request instanceof CopyObjectRequest copy) {
      return copy.toBuilder()
          .serverSideEncryption(algorithm())
          .ssekmsKeyId(key())
          .storageClass(storing.storageClass().orElse(null))
          .build();
    }
    return request;
  }

  private ServerSideEncryption algorithm() {
    Optional<Storing.Encryption> encryption = storing.encryption();
    if (encryption.isEmpty()) {
      return null;
    }
    return encryption.get().key().isPresent()
        ? ServerSideEncryption.AWS_KMS
        : ServerSideEncryption.AES256;
  }

  private String key() {
    return storing.encryption().flatMap(Storing.Encryption::key).orElse(null);
  }

  private Tagging tags() {
    if (storing.tags().isEmpty()) {
      return null;
    }
    Set<Tag> tags =
        storing.tags().entrySet().stream()
            .map(tag -> Tag.builder().key(tag.getKey()).value(tag.getValue()).build())
            .collect(Collectors.toSet());
    return Tagging.builder().tagSet(tags).build();
  }

  @Override
  public SdkHttpRequest modifyHttpRequest(
      Context.ModifyHttpRequest context, ExecutionAttributes attributes) {
    return storing.requesterPays()
        ? context.httpRequest().toBuilder().putHeader("x-amz-request-payer", "requester").build()
        : context.httpRequest();
  }
}
