"""Tunes the last two layers of the quick model to hear how a text is said.

    make_tone.py model.safetensors tokenizer.json RATED-FOLDER tweets.csv train.csv tone.safetensors golden_tone.json

The layers below stay as they are, so that one run of the network gives the meaning and the tone. What is learned from stands in
docs/methods/sentiment.md and kinds.md; whatever else lies in RATED-FOLDER is for judging and is not read.
"""

import csv
import functools
import json
import sys
import time

import jax
import jax.numpy as jnp
import numpy as np
from safetensors.numpy import load_file, save_file
from tokenizers import Tokenizer

HEADS, WIDTH, LAYERS, BELOW = 12, 384, 6, 4
SIDES = ["against", "neutral", "for"]
KINDS = ["request", "defect", "friction", "help_needed", "praise", "habit", "leaving"]
RATED = ["tweets", "movieReviewSnippets", "nytEditorialSnippets"]
NEUTRAL = 0.05
# Of what comes out, the three sides and the score are shipped.
SHIPPED = len(SIDES) + 1
LENGTHS = [8, 12, 16, 20, 24, 32, 40, 48, 64, 96]
BATCH, ROUNDS, RATE, WARM, DROP, SMOOTH = 32, 3, 5e-5, 200, 0.1, 0.05
# Our own sentences are few beside the others, and those that are rated by one word for a whole message are worth less.
OWN_TIMES, OF_TWEETS, TWEET_WORTH, SURE = 4, 6000, 0.5, 0.6
LAYER = {
    "query": "attention.self.query", "key": "attention.self.key", "value": "attention.self.value",
    "seen": "attention.output.dense", "first": "attention.output.LayerNorm",
    "inner": "intermediate.dense", "outer": "output.dense", "second": "output.LayerNorm",
}  # fmt: skip


def texts(folder, tweets, own):
    """Rows of (text, side, score or NaN, kind or -1, worth, times)."""
    rows = []
    for name in RATED:
        with open(f"{folder}/{name}_GroundTruth.txt", encoding="latin1") as file:
            for line in file:
                cells = line.rstrip("\n").split("\t", 2)
                if len(cells) == 3:
                    score = float(cells[1]) / 4
                    rows.append((cells[2], 2 if score > NEUTRAL else 0 if score < -NEUTRAL else 1, score, -1, 1.0, 1))
    usual = {"praise": 2, "defect": 0, "friction": 0, "leaving": 0}
    with open(own, encoding="utf-8") as file:
        for row in csv.DictReader(file):
            kind = row["kind"]
            rows.append((row["text"], usual.get(kind, 1), np.nan, KINDS.index(kind), 1.0, OWN_TIMES))
    found = {"negative": [], "neutral": [], "positive": []}
    with open(tweets, encoding="latin1") as file:
        for row in csv.DictReader(file):
            if float(row["confidence"] or 1) >= SURE and len(row["text"]) < 250:
                found[row["sentiment"]].append(row["text"])
    chance = np.random.default_rng(1)
    for side, name in enumerate(found):
        some = chance.permutation(len(found[name]))[: OF_TWEETS // 3]
        rows += [(found[name][at], side, np.nan, -1, TWEET_WORTH, 1) for at in some]
    return rows


def linear(p, x):
    return x @ p["weight"].T + p["bias"]


def norm(p, x):
    apart = x - x.mean(-1, keepdims=True)
    return apart / jnp.sqrt((apart**2).mean(-1, keepdims=True) + 1e-12) * p["weight"] + p["bias"]


def layer(p, x, mask, drop):
    parts, length, _ = x.shape
    split = lambda y: y.reshape(parts, length, HEADS, WIDTH // HEADS).transpose(0, 2, 1, 3)
    query, key, value = (split(linear(p[name], x)) for name in ("query", "key", "value"))
    alike = query @ key.transpose(0, 1, 3, 2) * (WIDTH // HEADS) ** -0.5 + (1 - mask[:, None, None, :]) * -1e4
    seen = (jax.nn.softmax(alike, -1) @ value).transpose(0, 2, 1, 3).reshape(parts, length, WIDTH)
    x = norm(p["first"], x + linear(p["seen"], seen))
    inner = linear(p["outer"], jax.nn.gelu(linear(p["inner"], x), approximate=False))
    return norm(p["second"], x + drop(inner))


def of_layer(weights, at):
    part = lambda name: {end: jnp.array(weights[f"encoder.layer.{at}.{name}.{end}"]) for end in ("weight", "bias")}
    return {short: part(name) for short, name in LAYER.items()}


def below(weights):
    """The layers that stay: token numbers and their mask to what the tuned layers see."""
    words = jnp.array(weights["embeddings.word_embeddings.weight"])
    places = weights["embeddings.position_embeddings.weight"] + weights["embeddings.token_type_embeddings.weight"][0]
    first = {end: jnp.array(weights[f"embeddings.LayerNorm.{end}"]) for end in ("weight", "bias")}
    layers = [of_layer(weights, at) for at in range(BELOW)]

    @jax.jit
    def run(ids, mask):
        x = norm(first, words[ids] + jnp.array(places)[: ids.shape[1]])
        return functools.reduce(lambda x, p: layer(p, x, mask, lambda y: y), layers, x)

    return run


def above(p, x, mask, chance=None):
    """Three sides, a score, seven kinds: as they are before they become likelihoods."""
    x = x.astype(jnp.float32)
    chances = iter(jax.random.split(chance, len(p["layers"]) + 1)) if chance is not None else None

    def drop(y):
        return y if chances is None else y * jax.random.bernoulli(next(chances), 1 - DROP, y.shape) / (1 - DROP)

    for one in p["layers"]:
        x = layer(one, x, mask, drop)
    return linear(p["out"], drop((x * mask[..., None]).sum(1) / mask.sum(1, keepdims=True)))


def told(out):
    score = np.clip((out[:, 3:4] + 1) / 2, 0, 1)
    return np.concatenate([jax.nn.softmax(out[:, :3]), score, jax.nn.softmax(out[:, 4:])], 1)


def loss(p, x, mask, side, score, worth, kind, chance):
    out = above(p, x, mask, chance)
    of_side = -(jax.nn.log_softmax(out[:, :3]) * side).sum(-1)
    of_score = jnp.where(jnp.isfinite(score), (out[:, 3] - jnp.nan_to_num(score)) ** 2, 0)
    of_kind = -(jax.nn.log_softmax(out[:, 4:]) * kind).sum(-1)
    return (worth * (of_side + 4 * of_score) + of_kind).mean()


@jax.jit
def step(p, m, v, count, rate, chance, *batch):
    """One step of AdamW (Loshchilov and Hutter, 2019), with the gradient cut to length 1."""
    worth, slope = jax.value_and_grad(loss)(p, *batch, chance)
    length = jnp.sqrt(sum((part**2).sum() for part in jax.tree.leaves(slope)))
    slope = jax.tree.map(lambda part: part * jnp.minimum(1, 1 / length), slope)
    m = jax.tree.map(lambda a, b: 0.9 * a + 0.1 * b, m, slope)
    v = jax.tree.map(lambda a, b: 0.98 * a + 0.02 * b * b, v, slope)
    move = lambda p, m, v: p - rate * ((m / (1 - 0.9**count)) / (jnp.sqrt(v / (1 - 0.98**count)) + 1e-6) + 0.01 * p)
    return jax.tree.map(move, p, m, v), m, v, worth


def seen(run, tokens, places):
    """What the tuned layers see of some texts, by how many tokens they are filled up to: their places, what is seen, masks."""
    by_length = {}
    for at, ids in zip(places, tokens):
        by_length.setdefault(next(length for length in LENGTHS if len(ids) <= length), []).append((at, ids))
    for length, some in by_length.items():
        ids, mask = np.zeros((len(some), length), np.int32), np.zeros((len(some), length), np.float32)
        for row, (_, one) in enumerate(some):
            ids[row, : len(one)], mask[row, : len(one)] = one, 1
        parts = [np.asarray(run(ids[at : at + 64], mask[at : at + 64]), np.float16) for at in range(0, len(some), 64)]
        yield length, (np.array([at for at, _ in some]), np.concatenate(parts), mask)


def smooth(at, count):
    """A little less than certain; nothing where the class is not known."""
    return np.where(at < 0, 0, 1)[:, None] * (np.eye(count, dtype=np.float32)[at] * (1 - SMOOTH) + SMOOTH / count)


def learn(weights, rows, tokens):
    kept = dict(seen(below(weights), tokens, range(len(rows))))
    column = lambda at, kind: np.array([row[at] for row in rows], kind)
    side, kind = smooth(column(1, int), len(SIDES)), smooth(column(3, int), len(KINDS))
    score, worth, times = column(2, np.float32), column(4, np.float32), column(5, int)
    chance = np.random.default_rng(1)
    out = {"weight": jnp.array(chance.normal(0, 0.02, (4 + len(KINDS), WIDTH)), jnp.float32), "bias": jnp.zeros(4 + len(KINDS))}
    p = {"layers": [of_layer(weights, at) for at in range(BELOW, LAYERS)], "out": out}
    m = v = jax.tree.map(jnp.zeros_like, p)

    def batches():
        parts = []
        for length, (places, _, _) in kept.items():
            order = chance.permutation(np.repeat(np.arange(len(places)), times[places]))
            parts += [(length, order[at : at + BATCH]) for at in range(0, len(order) - BATCH + 1, BATCH)]
        return [parts[at] for at in chance.permutation(len(parts))]

    key, count, all_steps = jax.random.PRNGKey(0), 0, ROUNDS * len(batches())
    for _ in range(ROUNDS):
        start, total = time.time(), 0.0
        for done, (length, some) in enumerate(batches(), 1):
            places, x, mask = kept[length]
            at = places[some]
            count += 1
            rate = RATE * min(1, count / WARM) * max(0.02, 1 - count / all_steps)
            key, own = jax.random.split(key)
            p, m, v, worth_now = step(
                p, m, v, count, rate, own, x[some], mask[some], side[at], score[at], worth[at], kind[at]
            )  # fmt: skip
            total += float(worth_now)
        print(f"a round in {time.time() - start:.0f} s, loss {total / done:.3f}", flush=True)
    return p


def hear(weights, p, tokens):
    all_told = np.zeros((len(tokens), 4 + len(KINDS)))
    for places, x, mask in dict(seen(below(weights), tokens, range(len(tokens)))).values():
        all_told[places] = told(np.asarray(above(p, x, mask)))
    return all_told


def main(model, tokenizer, folder, tweets, own, target, golden):
    weights = load_file(model)
    tokenizer = Tokenizer.from_file(tokenizer)
    tokenizer.no_padding()
    tokenizer.enable_truncation(LENGTHS[-1])
    rows = texts(folder, tweets, own)
    p = learn(weights, rows, [one.ids for one in tokenizer.encode_batch([row[0] for row in rows])])
    # The kinds are learned beside and told as well without, so they stay here (docs/methods/tone.md).
    named = {f"out.{end}": p["out"][end][: SHIPPED] for end in ("weight", "bias")}
    for at, one in enumerate(p["layers"], BELOW):
        for short, name in LAYER.items():
            named |= {f"encoder.layer.{at}.{name}.{end}": one[short][end] for end in ("weight", "bias")}
    save_file({name: np.asarray(numbers) for name, numbers in named.items()}, target)
    said = [row[0] for row in rows if row[3] >= 0][::60]
    numbers = hear(weights, p, [one.ids for one in tokenizer.encode_batch(said)])
    lines = [{"text": text, "tone": [round(float(x), 4) for x in one[:SHIPPED]]} for text, one in zip(said, numbers)]
    with open(golden, "w", encoding="utf-8") as file:
        json.dump(lines, file, ensure_ascii=False, indent=0)


if __name__ == "__main__":
    main(*sys.argv[1:])
