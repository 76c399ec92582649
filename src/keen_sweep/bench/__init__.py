"""The public benchmark: fills with exact truth, beside reference methods in the same run."""
