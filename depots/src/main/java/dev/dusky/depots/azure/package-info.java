/** Blob storage of Azure, through the vendor's client. */
package dev.dusky.depots.azure;
