"""Tiny networks built on the spot: what they paint is nothing to look at, how they are loaded and run is real."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np

from keen_sweep.core.arrays import EightBit


def tiny_onnx(path: Path, side: int | None = None, truth: EightBit | None = None) -> Path:
    """An ONNX file that takes a picture and a mask of (1, 3 or 1, side, side), any size without a side, and gives back
    the picture with its hole at nought, or always the truth (h, w, 3)."""
    import onnx
    from onnx import TensorProto, helper, numpy_helper

    size = [side, side] if side else ["h", "w"]
    picture = helper.make_tensor_value_info("picture", TensorProto.FLOAT, [1, 3, *size])
    mask = helper.make_tensor_value_info("mask", TensorProto.FLOAT, [1, 1, *size])
    out = helper.make_tensor_value_info("out", TensorProto.FLOAT, [1, 3, *size])
    given = [numpy_helper.from_array(np.ones((), np.float32), "one")]
    if truth is None:
        nodes = [
            helper.make_node("Sub", ["one", "mask"], ["kept"]),
            helper.make_node("Mul", ["picture", "kept"], ["out"]),
        ]
    else:
        values = np.moveaxis(truth.astype(np.float32)[None] / 255, -1, 1)
        given.append(numpy_helper.from_array(values, "truth"))
        nodes = [helper.make_node("Mul", ["truth", "one"], ["out"])]
    graph = helper.make_graph(nodes, "tiny", [picture, mask], [out], given)
    onnx.save(helper.make_model(graph, opset_imports=[helper.make_opsetid("", 17)], ir_version=9), path)
    return path


def tiny_diffusers(folder: Path, seed: int = 0) -> Path:
    """A folder in the diffusers format: an inpainting pipeline of random networks with a few channels, 64 x 64 latents
    for 128 x 128 pixels. Needs the extra diffusers."""
    import torch
    from diffusers import AutoencoderKL, DDIMScheduler, StableDiffusionInpaintPipeline, UNet2DConditionModel
    from transformers import CLIPTextConfig, CLIPTextModel, CLIPTokenizer

    torch.manual_seed(seed)
    words = folder / "words"
    words.mkdir(parents=True)
    letters = [chr(c) for c in range(ord("a"), ord("z") + 1)]
    tokens = [*letters, *(f"{c}</w>" for c in letters), "<|startoftext|>", "<|endoftext|>"]
    (words / "vocab.json").write_text(json.dumps({token: k for k, token in enumerate(tokens)}))
    (words / "merges.txt").write_text("#version: 0.2\n")
    tokenizer: Any = CLIPTokenizer(str(words / "vocab.json"), str(words / "merges.txt"), model_max_length=16)
    config = CLIPTextConfig(
        vocab_size=len(tokens),
        hidden_size=16,
        intermediate_size=16,
        num_hidden_layers=1,
        num_attention_heads=2,
        max_position_embeddings=16,
        projection_dim=16,
        bos_token_id=len(tokens) - 2,
        eos_token_id=len(tokens) - 1,
        pad_token_id=len(tokens) - 1,
    )
    unet = UNet2DConditionModel(
        sample_size=64,
        in_channels=9,
        out_channels=4,
        block_out_channels=(8, 8),
        layers_per_block=1,
        norm_num_groups=4,
        down_block_types=("DownBlock2D", "CrossAttnDownBlock2D"),
        up_block_types=("CrossAttnUpBlock2D", "UpBlock2D"),
        cross_attention_dim=16,
        attention_head_dim=2,
    )
    vae = AutoencoderKL(
        block_out_channels=(8, 8),
        norm_num_groups=4,
        down_block_types=("DownEncoderBlock2D",) * 2,
        up_block_types=("UpDecoderBlock2D",) * 2,
        sample_size=128,
    )
    pipeline = StableDiffusionInpaintPipeline(
        vae=vae,
        text_encoder=CLIPTextModel(config),
        tokenizer=tokenizer,
        unet=unet,
        scheduler=DDIMScheduler(steps_offset=1, clip_sample=False),
        safety_checker=None,
        feature_extractor=None,
        requires_safety_checker=False,
    )
    pipeline.save_pretrained(folder)
    return folder
