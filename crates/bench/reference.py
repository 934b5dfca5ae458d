"""The same steps as the bench of reading, put together from common parts: reference.py MODEL-FOLDER REVIEWS.csv"""

import csv
import re
import sys
import time

import numpy as np
import onnxruntime
from sklearn.cluster import MiniBatchKMeans
from sklearn.linear_model import LogisticRegression
from sklearn.neighbors import NearestNeighbors
from tokenizers import Tokenizer

folder, path = sys.argv[1:]
began = time.time()


def step(name, since):
    print(f"{name} {time.time() - since:.1f} s")
    return time.time()


with open(path, encoding="utf-8") as file:
    texts = [row["review"] for row in csv.DictReader(file)]
parts = sorted({part.strip() for text in texts for part in re.split(r"(?<=[.!?])\s+", text) if part.strip()})
now = step("sentences", began)
tokenizer = Tokenizer.from_file(f"{folder}/minilm-tokenizer.json")
tokenizer.no_padding()
tokenizer.enable_truncation(128)
options = onnxruntime.SessionOptions()
options.intra_op_num_threads = 2
session = onnxruntime.InferenceSession(f"{folder}/minilm-w8.onnx", options)
tokens = [encoding.ids for encoding in tokenizer.encode_batch(parts)]
order = sorted(range(len(parts)), key=lambda at: len(tokens[at]))
vectors = np.zeros((len(parts), 384), np.float32)
for start in range(0, len(order), 16):
    batch = order[start : start + 16]
    width = max(len(tokens[at]) for at in batch)
    ids, mask = np.zeros((2, len(batch), width), np.int64)
    for row, at in enumerate(batch):
        ids[row, : len(tokens[at])] = tokens[at]
        mask[row, : len(tokens[at])] = 1
    vectors[batch] = session.run(None, {"input_ids": ids, "attention_mask": mask})[0]
now = step("meaning", now)
guess = LogisticRegression(max_iter=50).fit(vectors[:500], np.arange(500) % 7)
guess.predict_proba(vectors)
now = step("kinds", now)
NearestNeighbors(n_neighbors=15, metric="cosine").fit(vectors).kneighbors(vectors)
MiniBatchKMeans(max(2, len(parts) // 50), random_state=0, n_init=1).fit(vectors)
step("groups", now)
step("all", began)
