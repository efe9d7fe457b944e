"""The whole boat bound: one content, written as a PDF and shown as a page to print."""
