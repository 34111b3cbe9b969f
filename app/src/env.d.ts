/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    /** Why the page that was asked for could not be drawn. */
    error?: unknown;
  }
}
