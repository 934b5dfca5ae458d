"""Makes the model file from the released weights.

    make.py model.safetensors tone.safetensors minilm-w8.onnx

Two steps: the network of the sentence encoder is written as an ONNX graph with its pooling inside, and beside its last
layers those that hear the tone (make_tone.py); the large weights become whole numbers of one byte with one scale for each
column (or for each row of the vocabulary).
"""

import sys

import numpy as np
import onnx
from onnx import TensorProto, helper, numpy_helper
from safetensors.numpy import load_file

HEADS, WIDTH, LAYERS = 12, 384, 6
# The numbers of a tone: three sides, a score.
TONE_PARTS = [3, 1]


class Graph:
    """An ONNX graph while it is written: each call of `op` adds a node and gives the name of what comes out."""

    def __init__(self, weights):
        self.weights, self.nodes, self.constants, self.count = weights, [], {}, 0

    def constant(self, name, numbers):
        self.constants.setdefault(name, numpy_helper.from_array(np.ascontiguousarray(numbers), name))
        return name

    def whole(self, name, *numbers):
        return self.constant(name, np.array(numbers, np.int64))

    def real(self, name, number):
        return self.constant(name, np.array(number, np.float32))

    def weight(self, name):
        return self.constant(name, self.weights[name].astype(np.float32))

    def op(self, kind, *inputs, **attributes):
        self.count += 1
        name = f"{kind}_{self.count}"
        self.nodes.append(helper.make_node(kind, list(inputs), [name], name=name, **attributes))
        return name

    def linear(self, x, name):
        turned = self.constant(name + ".weight_t", self.weights[name + ".weight"].T.astype(np.float32))
        return self.op("Add", self.op("MatMul", x, turned), self.weight(name + ".bias"))

    def norm(self, x, name, least=1e-12):
        both = self.weight(name + ".weight"), self.weight(name + ".bias")
        return self.op("LayerNormalization", x, *both, axis=-1, epsilon=least)

    def gelu(self, x):
        bent = self.op("Add", self.op("Erf", self.op("Div", x, self.real("sqrt2", 2**0.5))), self.real("one", 1.0))
        return self.op("Mul", self.op("Mul", x, bent), self.real("half", 0.5))

    def mean(self, x, mask):
        each = self.op("Unsqueeze", mask, self.whole("ax2", 2))
        total = self.op("ReduceSum", self.op("Mul", x, each), self.whole("ax1", 1), keepdims=0)
        return self.op("Div", total, self.op("ReduceSum", mask, self.whole("ax1", 1), keepdims=1))

    def pointing(self, x):
        length = self.op("Sqrt", self.op("ReduceSum", self.op("Mul", x, x), self.whole("ax1", 1), keepdims=1))
        self.nodes.append(helper.make_node("Div", [x, length], ["sentence_embedding"], name="normalise"))


def wrapped(g, name, width, extra=(), tones=None):
    inputs = [helper.make_tensor_value_info(n, TensorProto.INT64, ["batch", "seq"]) for n in ("input_ids", "attention_mask")]
    outputs = [helper.make_tensor_value_info("sentence_embedding", TensorProto.FLOAT, None if extra else ["batch", width])]
    outputs += [helper.make_tensor_value_info(n, TensorProto.FLOAT, None) for n in extra]
    if tones:
        outputs.append(helper.make_tensor_value_info("tone", TensorProto.FLOAT, ["batch", tones]))
    graph = helper.make_graph(g.nodes, name, inputs, outputs, list(g.constants.values()))
    return helper.make_model(graph, opset_imports=[helper.make_opsetid("", 17)], ir_version=8)


def embeddings(g):
    length = g.op("Shape", "input_ids", start=1, end=2)
    position = g.weights["embeddings.position_embeddings.weight"] + g.weights["embeddings.token_type_embeddings.weight"][0]
    position = g.constant("embeddings.position_plus_type", position.astype(np.float32))
    x = g.op("Gather", g.weight("embeddings.word_embeddings.weight"), "input_ids", axis=0)
    x = g.op("Add", x, g.op("Slice", position, g.whole("zero1", 0), length, g.whole("axis0", 0)))
    return g.norm(x, "embeddings.LayerNorm")


def layer(g, x, bias, split, merge, name):
    parts = [g.op("Reshape", g.linear(x, f"{name}attention.self.{part}"), split) for part in ("query", "key", "value")]
    query, key, value = (g.op("Transpose", part, perm=perm) for part, perm in zip(parts, ([0, 2, 1, 3], [0, 2, 3, 1], [0, 2, 1, 3])))
    alike = g.op("Mul", g.op("MatMul", query, key), g.real("scale", (WIDTH // HEADS) ** -0.5))
    share = g.op("Softmax", g.op("Add", alike, bias), axis=-1)
    seen = g.op("Reshape", g.op("Transpose", g.op("MatMul", share, value), perm=[0, 2, 1, 3]), merge)
    x = g.norm(g.op("Add", g.linear(seen, name + "attention.output.dense"), x), name + "attention.output.LayerNorm")
    inner = g.gelu(g.linear(x, name + "intermediate.dense"))
    return g.norm(g.op("Add", g.linear(inner, name + "output.dense"), x), name + "output.LayerNorm")


def tone(g, x, mask, bias, split, merge, prefix, first):
    """Beside the meaning: layers of their own from `first` on, and what they tell as numbers between 0 and 1."""
    for at in range(first, LAYERS):
        x = layer(g, x, bias, split, merge, f"{prefix}encoder.layer.{at}.")
    sizes = g.whole("tone_parts", *TONE_PARTS)
    g.count += 1
    parts = [f"Split_{g.count}_{at}" for at in range(len(TONE_PARTS))]
    g.nodes.append(helper.make_node("Split", [g.linear(g.mean(x, mask), prefix + "out"), sizes], parts, axis=1, name="tone_split"))
    half = g.op("Mul", g.op("Add", parts[1], g.real("one", 1.0)), g.real("half", 0.5))
    score = g.op("Clip", half, g.real("none", 0.0), g.real("one", 1.0))
    sides = g.op("Softmax", parts[0], axis=-1)
    g.nodes.append(helper.make_node("Concat", [sides, score], ["tone"], axis=1, name="tone_all"))


def network(weights, tuned):
    first = min(int(name.split(".")[2]) for name in tuned if name.startswith("encoder.layer."))
    weights = weights | {"tone." + name: numbers for name, numbers in tuned.items()}
    g = Graph(weights)
    x = embeddings(g)
    mask = g.op("Cast", "attention_mask", to=TensorProto.FLOAT)
    away = g.op("Sub", g.real("one", 1.0), g.op("Unsqueeze", mask, g.whole("ax12", 1, 2)))
    bias = g.op("Mul", away, g.real("neg", -1e4))
    split, merge = g.whole("split", 0, 0, HEADS, WIDTH // HEADS), g.whole("merge", 0, 0, WIDTH)
    for at in range(LAYERS):
        if at == first:
            tone(g, x, mask, bias, split, merge, "tone.", first)
        x = layer(g, x, bias, split, merge, f"encoder.layer.{at}.")
    g.pointing(g.mean(x, mask))
    return wrapped(g, "all-MiniLM-L6-v2", WIDTH, tones=sum(TONE_PARTS))


def in_bytes(model):
    """Weight-only int8 by the standard operator DequantizeLinear; the vocabulary stays in bytes also in memory."""
    graph = model.graph
    rows = {node.input[0] for node in graph.node if node.op_type == "Gather"}
    columns = {node.input[1] for node in graph.node if node.op_type == "MatMul"}
    kept, first = [], []
    for tensor in graph.initializer:
        numbers, name = numpy_helper.to_array(tensor), tensor.name
        if name not in rows | columns or numbers.ndim != 2:
            kept.append(tensor)
            continue
        axis = 0 if name in rows else 1
        scale = np.maximum(np.abs(numbers).max(1 - axis, keepdims=True), 1e-9) / 127
        whole = np.clip(np.rint(numbers / scale), -127, 127).astype(np.int8)
        kept.append(numpy_helper.from_array(whole, name + "_q"))
        kept.append(numpy_helper.from_array(scale.ravel().astype(np.float32), name + "_s"))
        if axis == 1:
            parts = [name + "_q", name + "_s"]
            first.append(helper.make_node("DequantizeLinear", parts, [name], name=name + "_dq", axis=1))
        else:
            gather_bytes(graph, name)
    for at, node in enumerate(first):
        graph.node.insert(at, node)
    del graph.initializer[:]
    graph.initializer.extend(kept)
    return model


def gather_bytes(graph, name):
    at, node = next((at, n) for at, n in enumerate(graph.node) if n.op_type == "Gather" and n.input[0] == name)
    ids, out = node.input[1], node.output[0]
    graph.node.remove(node)
    instead = [
        helper.make_node("Gather", [name + "_q", ids], [out + "_q"], name=out + "_gq"),
        helper.make_node("Gather", [name + "_s", ids], [out + "_s"], name=out + "_gs"),
        helper.make_node("Cast", [out + "_q"], [out + "_f"], to=1, name=out + "_cast"),
        helper.make_node("Unsqueeze", [out + "_s", "ax2"], [out + "_s3"], name=out + "_us"),
        helper.make_node("Mul", [out + "_f", out + "_s3"], [out], name=out + "_mul"),
    ]
    for offset, node in enumerate(instead):
        graph.node.insert(at + offset, node)


if __name__ == "__main__":
    made = in_bytes(network(load_file(sys.argv[1]), load_file(sys.argv[2])))
    onnx.checker.check_model(made, full_check=True)
    onnx.save(made, sys.argv[3])
