/** A mesh in three dimensions with its fill level and layers, loaded only when it is wanted. Turns by drag
 *  or arrow keys. */
import { useEffect, useRef, useState } from "react";
import * as THREE from "three";
import type { Schemas } from "../api/client";

interface Props {
  mesh: Schemas["MeshPreview"];
  /** Heights of the layers' tops [m], from below. */
  levels: number[];
  tint: string;
}

function decode(base64: string): ArrayBuffer {
  const bytes = Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0));
  return bytes.buffer;
}

export default function MeshView({ mesh, levels, tint }: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    const box = holder.current;
    if (!box) return;
    try {
      return draw(box, mesh, levels, tint);
    } catch {
      setProblem("This browser cannot draw in three dimensions; the section and the figures say the same.");
    }
  }, [mesh, levels, tint]);

  if (problem)
    return (
      <p role="alert" className="text-rust text-[13px]">
        {problem}
      </p>
    );
  return (
    <figure className="m-0">
      <div
        ref={holder}
        className="h-[240px] border border-line cursor-grab touch-none"
        tabIndex={0}
        role="img"
        aria-label="The mesh seen from the side; arrow keys turn it"
      />
      <figcaption className="text-[12px] text-slate">
        {mesh.shown < mesh.of
          ? `Drawn from ${mesh.shown.toLocaleString("en")} of ${mesh.of.toLocaleString("en")} triangles; the figures use all. Cut open in its middle, as the section is.`
          : "Cut open in its middle, as the section is. Drag to turn."}
      </figcaption>
    </figure>
  );
}

/** One layer of the cut face, in the plane of the section. */
function cutFace(alongX: boolean, wide: number, from: number, to: number, colour: THREE.Color): THREE.Mesh {
  const face = new THREE.Mesh(
    new THREE.PlaneGeometry(wide * 1.02, to - from),
    new THREE.MeshBasicMaterial({
      color: colour.clone().multiplyScalar(0.9),
      side: THREE.DoubleSide,
      stencilWrite: true,
      stencilRef: 0,
      stencilFunc: THREE.NotEqualStencilFunc,
    }),
  );
  face.rotation.set(Math.PI / 2, alongX ? Math.PI / 2 : 0, 0, "XYZ");
  face.position.set(0, 0, (from + to) / 2);
  face.renderOrder = 2;
  return face;
}

/** The near half is cut away in the same plane as the section. Returns what clears it all up. */
function draw(box: HTMLDivElement, mesh: Schemas["MeshPreview"], levels: number[], tint: string): () => void {
  const renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true, stencil: true });
  renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
  renderer.localClippingEnabled = true;
  renderer.setSize(box.clientWidth, box.clientHeight);
  box.replaceChildren(renderer.domElement);
  // in mm: EdgesGeometry joins corners nearer than 1e-4
  const [sx, sy, sz] = mesh.size_m.map((side) => side * 1000) as [number, number, number];
  const scene = new THREE.Scene();
  scene.up.set(0, 0, 1);
  const alongX = sx >= sy;
  const half = new THREE.Plane(alongX ? new THREE.Vector3(1, 0, 0) : new THREE.Vector3(0, 1, 0), 0);
  const ink = new THREE.Color(
    getComputedStyle(document.documentElement).getPropertyValue("--ink").trim() || "#20262B",
  );

  const shape = new THREE.BufferGeometry();
  shape.setAttribute(
    "position",
    new THREE.BufferAttribute(
      new Float32Array(decode(mesh.corners)).map((one) => one * 1000),
      3,
    ),
  );
  shape.setIndex(new THREE.BufferAttribute(new Uint32Array(decode(mesh.triangles)), 1));
  const flat = shape.toNonIndexed();
  flat.computeVertexNormals();
  const tops = levels.length ? levels.map((one) => Math.min(one * 1000, sz)) : [sz];
  tops.forEach((top, index) => {
    const [from, to] = [index ? tops[index - 1]! : 0, index === tops.length - 1 ? Math.max(top, sz) : top];
    if (to <= from) return;
    const colour = new THREE.Color(levels.length ? tint : "#CFC8B8").lerp(
      new THREE.Color("#FFFFFF"),
      0.16 * Math.min(index, 3),
    );
    const band = [
      new THREE.Plane(new THREE.Vector3(0, 0, -1), to + 0.02),
      new THREE.Plane(new THREE.Vector3(0, 0, 1), -from + 0.02),
      half,
    ];
    scene.add(new THREE.Mesh(flat, new THREE.MeshLambertMaterial({ color: colour, clippingPlanes: band })));
    scene.add(cutFace(alongX, alongX ? sy : sx, from, to, colour));
  });
  // The cut face is filled only where the solid is: its back faces counted up, its front faces down, in the
  // stencil.
  for (const [side, step] of [
    [THREE.BackSide, THREE.IncrementWrapStencilOp],
    [THREE.FrontSide, THREE.DecrementWrapStencilOp],
  ] as const) {
    const count = new THREE.Mesh(
      flat,
      new THREE.MeshBasicMaterial({
        side,
        depthWrite: false,
        depthTest: false,
        colorWrite: false,
        stencilWrite: true,
        stencilFunc: THREE.AlwaysStencilFunc,
        stencilFail: step,
        stencilZFail: step,
        stencilZPass: step,
        clippingPlanes: [half],
      }),
    );
    count.renderOrder = 1;
    scene.add(count);
  }
  scene.add(
    new THREE.LineSegments(
      new THREE.EdgesGeometry(flat, 35),
      new THREE.LineBasicMaterial({ color: ink, transparent: true, opacity: 0.75 }),
    ),
  );
  const light = new THREE.DirectionalLight(0xffffff, 1.4);
  light.position.set(-1, 0.6, 1.5);
  scene.add(new THREE.AmbientLight(0xffffff, 1.7), light);

  const size = Math.max(sx, sy, sz);
  const camera = new THREE.PerspectiveCamera(32, box.clientWidth / box.clientHeight, size / 100, size * 20);
  camera.up.set(0, 0, 1);
  let [turn, tilt] = [alongX ? Math.PI + 0.5 : -Math.PI / 2 - 0.5, 0.45];
  const show = () => {
    const far = size * 2.0;
    camera.position.set(
      Math.cos(turn) * Math.cos(tilt) * far,
      Math.sin(turn) * Math.cos(tilt) * far,
      sz / 2 + Math.sin(tilt) * far,
    );
    camera.lookAt(0, 0, sz / 2);
    renderer.render(scene, camera);
  };
  show();
  let held: PointerEvent | null = null;
  const move = (event: PointerEvent) => {
    if (!held) return;
    turn -= (event.clientX - held.clientX) * 0.01;
    tilt = Math.min(Math.max(tilt + (event.clientY - held.clientY) * 0.01, -1.4), 1.4);
    held = event;
    show();
  };
  const key = (event: KeyboardEvent) => {
    const step = { ArrowLeft: [0.15, 0], ArrowRight: [-0.15, 0], ArrowUp: [0, 0.1], ArrowDown: [0, -0.1] }[
      event.key
    ];
    if (!step) return;
    event.preventDefault();
    turn += step[0]!;
    tilt = Math.min(Math.max(tilt + step[1]!, -1.4), 1.4);
    show();
  };
  const down = (event: PointerEvent) => {
    held = event;
    box.setPointerCapture(event.pointerId);
  };
  const upKey = () => {
    held = null;
  };
  box.addEventListener("pointerdown", down);
  box.addEventListener("pointermove", move);
  box.addEventListener("pointerup", upKey);
  box.addEventListener("keydown", key);
  return () => {
    box.removeEventListener("pointerdown", down);
    box.removeEventListener("pointermove", move);
    box.removeEventListener("pointerup", upKey);
    box.removeEventListener("keydown", key);
    shape.dispose();
    flat.dispose();
    renderer.dispose();
    box.replaceChildren();
  };
}
