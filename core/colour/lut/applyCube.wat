;; A run of samples through a cube, tetrahedral: the arithmetic of `compile3d` (eval3d.ts), a colour at a time. R and G
;; lie in two lanes of one vector and B in both of another, so that nothing branches; the three results come out of four
;; corners of four floats each. Places are worked out in 64 bits, as the reference does, corners mixed in 32.
(module
  (memory (export "memory") 1)
  (func (export "apply")
    ;; Where the samples lie (R, G, B, 12 bytes apart), and where they go; 4 bytes behind the last are written over.
    (param $from i32) (param $to i32) (param $pixels i32)
    ;; The cube's points, 16 bytes apart, red fastest; points along an edge; room for four steps of 4 bytes.
    (param $cube i32) (param $size i32) (param $steps i32)
    ;; From values to places in the cube: factors, then what is added.
    (param $kr f64) (param $kg f64) (param $kb f64) (param $or f64) (param $og f64) (param $ob f64)
    (local $end i32) (local $last v128) (local $edge v128)
    (local $stepG i32) (local $stepB i32) (local $stepAll i32)
    (local $krg v128) (local $org v128) (local $kbb v128) (local $obb v128)
    (local $rg v128) (local $gr v128) (local $bb v128) (local $irg v128) (local $ibb v128)
    (local $high v128) (local $middle v128) (local $low v128)
    (local $at i32) (local $far i32)

    (local.set $end (i32.add (local.get $from) (i32.mul (local.get $pixels) (i32.const 12))))
    (local.set $last (f64x2.splat (f64.convert_i32_s (i32.sub (local.get $size) (i32.const 1)))))
    (local.set $edge (i32x4.splat (i32.sub (local.get $size) (i32.const 2))))
    (local.set $stepG (i32.mul (local.get $size) (i32.const 16)))
    (local.set $stepB (i32.mul (local.get $size) (local.get $stepG)))
    (local.set $stepAll (i32.add (i32.const 16) (i32.add (local.get $stepG) (local.get $stepB))))
    ;; The step along a channel, by which of R (1) and G (2) it is: neither is B, and of both either will do.
    (i32.store (local.get $steps) (local.get $stepB))
    (i32.store offset=4 (local.get $steps) (i32.const 16))
    (i32.store offset=8 (local.get $steps) (local.get $stepG))
    (i32.store offset=12 (local.get $steps) (i32.const 16))
    (local.set $krg (f64x2.replace_lane 1 (f64x2.splat (local.get $kr)) (local.get $kg)))
    (local.set $org (f64x2.replace_lane 1 (f64x2.splat (local.get $or)) (local.get $og)))
    (local.set $kbb (f64x2.splat (local.get $kb)))
    (local.set $obb (f64x2.splat (local.get $ob)))

    (block $done
      (loop $each
        (br_if $done (i32.ge_u (local.get $from) (local.get $end)))
        ;; Places in the cube, held to its faces; in this order of operands what is not a number becomes 0.
        (local.set $rg (f64x2.pmin (local.get $last) (f64x2.pmax (v128.const f64x2 0 0)
          (f64x2.add (local.get $org)
            (f64x2.mul (local.get $krg) (f64x2.promote_low_f32x4 (v128.load64_zero (local.get $from))))))))
        (local.set $bb (f64x2.pmin (local.get $last) (f64x2.pmax (v128.const f64x2 0 0)
          (f64x2.add (local.get $obb)
            (f64x2.mul (local.get $kbb) (f64x2.splat (f64.promote_f32 (f32.load offset=8 (local.get $from)))))))))
        ;; The cell, and the place within it.
        (local.set $irg (i32x4.min_s (local.get $edge) (i32x4.trunc_sat_f64x2_s_zero (local.get $rg))))
        (local.set $ibb (i32x4.min_s (local.get $edge) (i32x4.trunc_sat_f64x2_s_zero (local.get $bb))))
        (local.set $rg (f64x2.sub (local.get $rg) (f64x2.convert_low_i32x4_s (local.get $irg))))
        (local.set $bb (f64x2.sub (local.get $bb) (f64x2.convert_low_i32x4_s (local.get $ibb))))
        (local.set $gr (i8x16.shuffle 8 9 10 11 12 13 14 15 0 1 2 3 4 5 6 7 (local.get $rg) (local.get $rg)))
        (local.set $at (i32.add
          (i32.add (local.get $cube) (i32.shl (i32x4.extract_lane 0 (local.get $irg)) (i32.const 4)))
          (i32.add
            (i32.mul (i32x4.extract_lane 1 (local.get $irg)) (local.get $stepG))
            (i32.mul (i32x4.extract_lane 0 (local.get $ibb)) (local.get $stepB)))))
        (local.set $far (i32.add (local.get $at) (local.get $stepAll)))
        ;; The parts of the three channels by their size, in both lanes.
        (local.set $high (f64x2.pmax (f64x2.pmax (local.get $rg) (local.get $gr)) (local.get $bb)))
        (local.set $low (f64x2.pmin (f64x2.pmin (local.get $rg) (local.get $gr)) (local.get $bb)))
        (local.set $middle (f64x2.sub
          (f64x2.sub (f64x2.add (f64x2.add (local.get $rg) (local.get $gr)) (local.get $bb)) (local.get $high))
          (local.get $low)))
        ;; Black of the cell; a step along the greatest; all but the step along the least; white. Where two are equal,
        ;; the corner that could be either has no share.
        (v128.store (local.get $to)
          (f32x4.add
            (f32x4.add
              (f32x4.mul
                (v128.load (local.get $at))
                (f32x4.splat (f32.demote_f64
                  (f64x2.extract_lane 0 (f64x2.sub (v128.const f64x2 1 1) (local.get $high))))))
              (f32x4.mul
                (v128.load (i32.add (local.get $at) (i32.load (i32.add (local.get $steps)
                  (i32.shl (i64x2.bitmask (f64x2.eq (local.get $rg) (local.get $high))) (i32.const 2))))))
                (f32x4.splat (f32.demote_f64
                  (f64x2.extract_lane 0 (f64x2.sub (local.get $high) (local.get $middle)))))))
            (f32x4.add
              (f32x4.mul
                (v128.load (i32.sub (local.get $far) (i32.load (i32.add (local.get $steps)
                  (i32.shl (i64x2.bitmask (f64x2.eq (local.get $rg) (local.get $low))) (i32.const 2))))))
                (f32x4.splat (f32.demote_f64
                  (f64x2.extract_lane 0 (f64x2.sub (local.get $middle) (local.get $low))))))
              (f32x4.mul
                (v128.load (local.get $far))
                (f32x4.splat (f32.demote_f64 (f64x2.extract_lane 0 (local.get $low))))))))
        (local.set $from (i32.add (local.get $from) (i32.const 12)))
        (local.set $to (i32.add (local.get $to) (i32.const 12)))
        (br $each)))))
