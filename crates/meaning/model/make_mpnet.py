"""Makes the file of the model that sees more from the released weights.

    make_mpnet.py model.safetensors tokenizer.json mpnet-w7a8.onnx golden.json FILE.csv [FILE.csv ...]

The network multiplies whole numbers: weights of seven bits, with one scale for each column, and what goes in of eight bits,
with one scale for each step, so that a text is told the same whatever stands beside it. Seven and not eight, since
some machines run over while they add up products of eight, and would tell something else. A few of the columns that go in are many times as large as
the others; their scale is moved into the weights before the rounding (SmoothQuant, Xiao et al. 2023), by how large each column
gets on the texts of the CSV files. Of the 768 numbers
that come out the 384 main directions on these texts are kept. The large weights lie beside the network, in mpnet-w7a8.data. The
last file is for the test: sentences with their tokens and the vectors of the network before the rounding.
"""

import csv
import json
import sys
from pathlib import Path

import numpy as np
import onnx
import onnxruntime
from make import Graph, wrapped
from onnx import TensorProto, numpy_helper
from safetensors.numpy import load_file
from tokenizers import Tokenizer

HEADS, WIDTH, LAYERS, LONGEST, KEPT = 12, 768, 12, 128, 384
LARGEST = 63  # of a weight, in seven bits
MOVED = 0.8  # how much of the scale of what goes in is moved into the weights
SENTENCES = 24


class Net(Graph):
    """The network: as it was released, or in whole numbers where it is known how large each column gets."""

    def __init__(self, weights, sizes=None):
        super().__init__(weights)
        self.sizes, self.inputs = sizes, []

    def single(self, name, number):
        self.constants.setdefault(name, numpy_helper.from_array(np.array(number), name))
        return name

    def enter(self, x, *names):
        """What goes into some linear steps, with how it is scaled for them."""
        if self.sizes is None:
            self.inputs.append(x)
            return x, None
        low, high = self.sizes[len(self.inputs)]
        self.inputs.append(x)
        largest = np.max([np.abs(self.weights[name + ".weight"]).max(0) for name in names], 0)
        scale = np.maximum(np.maximum(-low, high), 1e-3) ** MOVED / largest ** (1 - MOVED)
        scale = (scale / np.exp(np.log(scale).mean())).astype(np.float32)
        low, high = min((low / scale).min(), 0), max((high / scale).max(), 0)
        step = (high - low) / 255
        size = self.single(names[0] + ".step", np.float32(step))
        zero = self.single(names[0] + ".zero", np.uint8(np.rint(-low / step)))
        smaller = self.op("Mul", x, self.constant(names[0] + ".smaller", 1 / scale))
        return (self.op("QuantizeLinear", smaller, size, zero), np.float32(step), zero), scale

    def linear(self, entered, name):
        x, scale = entered
        if scale is None:
            return super().linear(x, name)
        numbers = self.weights[name + ".weight"].T.astype(np.float32) * scale[:, None]
        step = np.maximum(np.abs(numbers).max(0), 1e-9) / LARGEST
        whole = np.clip(np.rint(numbers / step), -LARGEST, LARGEST).astype(np.int8)
        bytes_, size, zero = x
        none = self.single("none", np.int8(0))
        y = self.op("MatMulInteger", bytes_, self.constant(name + ".q", whole), zero, none)
        y = self.op("Mul", self.op("Cast", y, to=TensorProto.FLOAT), self.constant(name + ".s", (step * size).astype(np.float32)))
        return self.op("Add", y, self.weight(name + ".bias"))

    def words(self):
        table = self.weights["embeddings.word_embeddings.weight"].astype(np.float32)
        if self.sizes is None:
            return self.op("Gather", self.constant("words", table), "input_ids", axis=0)
        step = np.maximum(np.abs(table).max(1), 1e-9) / 127
        whole = np.clip(np.rint(table / step[:, None]), -127, 127).astype(np.int8)
        x = self.op("Cast", self.op("Gather", self.constant("words_q", whole), "input_ids", axis=0), to=TensorProto.FLOAT)
        steps = self.op("Gather", self.constant("words_s", step.astype(np.float32)), "input_ids", axis=0)
        return self.op("Mul", x, self.op("Unsqueeze", steps, self.whole("ax2", 2)))


def places(weights):
    """What each head adds by how far two tokens stand apart: exact up to 8, then in steps that get wider."""
    apart = np.arange(LONGEST)[None] - np.arange(LONGEST)[:, None]
    far = np.abs(apart)
    wide = 8 + (np.log(np.maximum(far, 1) / 8) / np.log(16) * 8).astype(int)
    bucket = np.where(apart > 0, 16, 0) + np.where(far < 8, far, np.minimum(wide, 15))
    return weights["encoder.relative_attention_bias.weight"][bucket].transpose(2, 0, 1)[None].astype(np.float32)


def layer(g, x, bias, split, merge, name):
    attention = [f"{name}attention.attn.{part}" for part in "qkv"]
    entered = g.enter(x, *attention)
    parts = [g.op("Reshape", g.linear(entered, part), split) for part in attention]
    query, key, value = (g.op("Transpose", part, perm=perm) for part, perm in zip(parts, ([0, 2, 1, 3], [0, 2, 3, 1], [0, 2, 1, 3])))
    alike = g.op("Mul", g.op("MatMul", query, key), g.real("scale", (WIDTH // HEADS) ** -0.5))
    share = g.op("Softmax", g.op("Add", alike, bias), axis=-1)
    seen = g.op("Reshape", g.op("Transpose", g.op("MatMul", share, value), perm=[0, 2, 1, 3]), merge)
    out = name + "attention.attn.o"
    x = g.norm(g.op("Add", g.linear(g.enter(seen, out), out), x), name + "attention.LayerNorm", 1e-5)
    inner = g.linear(g.enter(x, name + "intermediate.dense"), name + "intermediate.dense")
    inner = g.gelu(inner)
    out = name + "output.dense"
    return g.norm(g.op("Add", g.linear(g.enter(inner, out), out), x), name + "output.LayerNorm", 1e-5)


def network(weights, sizes=None, main=None):
    g = Net(weights, sizes)
    length = g.op("Shape", "input_ids", start=1, end=2)
    # The first two rows are for what is filled up.
    position = g.constant("positions", weights["embeddings.position_embeddings.weight"][2 : 2 + LONGEST].astype(np.float32))
    x = g.op("Add", g.words(), g.op("Slice", position, g.whole("zero1", 0), length, g.whole("axis0", 0)))
    x = g.norm(x, "embeddings.LayerNorm", 1e-5)
    mask = g.op("Cast", "attention_mask", to=TensorProto.FLOAT)
    away = g.op("Sub", g.real("one", 1.0), g.op("Unsqueeze", mask, g.whole("ax12", 1, 2)))
    square = g.op("Concat", length, length, axis=0)
    apart = g.op("Slice", g.constant("places", places(weights)), g.whole("zero2", 0, 0), square, g.whole("axis23", 2, 3))
    bias = g.op("Add", apart, g.op("Mul", away, g.real("neg", -1e4)))
    split, merge = g.whole("split", 0, 0, HEADS, WIDTH // HEADS), g.whole("merge", 0, 0, WIDTH)
    for at in range(LAYERS):
        x = layer(g, x, bias, split, merge, f"encoder.layer.{at}.")
    mean = g.mean(x, mask)
    if main is not None:
        mean = g.op("MatMul", mean, g.constant("main", main.astype(np.float32)))
    g.pointing(mean)
    return g


def run(g, tokens, wanted):
    session = onnxruntime.InferenceSession(wrapped(g, "all-mpnet-base-v2", KEPT, extra=wanted).SerializeToString())
    for ids in tokens:
        row = np.array([ids], np.int64)
        yield session.run(["sentence_embedding", *wanted], {"input_ids": row, "attention_mask": np.ones_like(row)})


def texts(paths):
    for path in paths:
        with open(path, encoding="utf-8", newline="") as file:
            yield from (row["text"] for row in csv.DictReader(file))


if __name__ == "__main__":
    weights, tokenizer = load_file(sys.argv[1]), Tokenizer.from_file(sys.argv[2])
    tokenizer.no_padding()
    tokenizer.enable_truncation(LONGEST)
    all_texts = sorted(set(texts(sys.argv[5:])))
    tokens = [tokenizer.encode(text).ids for text in all_texts]
    whole = network(weights)
    vectors, sizes = [], None
    for vector, *inputs in run(whole, tokens, whole.inputs):
        vectors.append(vector[0].astype(np.float64))
        now = [(one.min((0, 1)), one.max((0, 1))) for one in inputs]
        known = now if sizes is None else sizes
        sizes = [(np.minimum(a, c), np.maximum(b, d)) for (a, b), (c, d) in zip(known, now)]
    vectors = np.array(vectors)
    main = np.linalg.eigh(vectors.T @ vectors)[1][:, ::-1][:, :KEPT]
    main *= np.sign(main.sum(0))  # so that each run gives the same
    made = wrapped(network(weights, sizes, main), "all-mpnet-base-v2", KEPT)
    onnx.checker.check_model(made, full_check=True)
    data = sys.argv[3].replace(".onnx", ".data")
    Path(data).unlink(missing_ok=True)  # else the numbers are put behind what stands there
    onnx.save(made, sys.argv[3], save_as_external_data=True, location=Path(data).name, size_threshold=100_000)
    some = list(range(0, len(tokens), len(tokens) // SENTENCES))[:SENTENCES]
    right = vectors[some] @ main
    right /= np.linalg.norm(right, axis=1, keepdims=True)
    golden = [{"text": all_texts[at], "ids": tokens[at], "vector": [round(float(x), 5) for x in row]} for at, row in zip(some, right)]
    with open(sys.argv[4], "w", encoding="utf-8") as file:
        json.dump(golden, file, ensure_ascii=False)
        file.write("\n")
