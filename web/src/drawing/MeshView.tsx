/** A mesh in three dimensions with its fill level and layers, loaded only when it is wanted. Turns by drag or arrow keys. */
import { useEffect, useRef, useState } from "react";
import * as THREE from "three";
import { call, type Schemas } from "../api/client";

interface Props {
  sha: string;
  unit: string;
  up: string;
  /** Heights of the layers' tops [m], from below. */
  levels: number[];
  tint: string;
}

function decode(base64: string): ArrayBuffer {
  const bytes = Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0));
  return bytes.buffer as ArrayBuffer;
}

export default function MeshView({ sha, unit, up, levels, tint }: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const [mesh, setMesh] = useState<Schemas["MeshPreview"] | null>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    setMesh(null);
    call<Schemas["MeshPreview"]>("GET", `/files/${sha}/preview?unit=${encodeURIComponent(unit)}&up=${encodeURIComponent(up)}`).then(setMesh).catch((error) => setProblem((error as Error).message));
  }, [sha, unit, up]);

  useEffect(() => {
    const box = holder.current;
    if (!box || !mesh) return;
    try {
      return draw(box, mesh, levels, tint);
    } catch {
      setProblem("This browser cannot draw in three dimensions; the section and the figures say the same.");
    }
  }, [mesh, levels, tint]);

  if (problem) return <p role="alert" className="text-rust text-[13px]">{problem}</p>;
  return (
    <figure className="m-0">
      <div ref={holder} className="h-[320px] border border-line cursor-grab touch-none" tabIndex={0} role="img" aria-label="The mesh seen from the side; arrow keys turn it" />
      <figcaption className="text-[12px] text-slate">{mesh ? (mesh.shown < mesh.of ? `Drawn from ${mesh.shown.toLocaleString("en")} of ${mesh.of.toLocaleString("en")} triangles; the figures use all. Cut open in its middle, as the section is.` : "Cut open in its middle, as the section is. Drag to turn.") : "Opening the mesh …"}</figcaption>
    </figure>
  );
}

/** The near half is cut away in the same plane as the section. Returns what clears it all up. */
function draw(box: HTMLDivElement, mesh: Schemas["MeshPreview"], levels: number[], tint: string): () => void {
  const renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true });
  renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
  renderer.localClippingEnabled = true;
  renderer.setSize(box.clientWidth, box.clientHeight);
  box.replaceChildren(renderer.domElement);
  const [sx, sy, sz] = mesh.size_m;
  const scene = new THREE.Scene();
  scene.up.set(0, 0, 1);
  const alongX = sx >= sy;
  const half = new THREE.Plane(alongX ? new THREE.Vector3(1, 0, 0) : new THREE.Vector3(0, 1, 0), 0);
  const ink = new THREE.Color(getComputedStyle(document.documentElement).getPropertyValue("--ink").trim() || "#20262B");

  const shape = new THREE.BufferGeometry();
  shape.setAttribute("position", new THREE.BufferAttribute(new Float32Array(decode(mesh.corners)), 3));
  shape.setIndex(new THREE.BufferAttribute(new Uint32Array(decode(mesh.triangles)), 1));
  shape.computeVertexNormals();
  scene.add(new THREE.Mesh(shape, new THREE.MeshStandardMaterial({ color: "#CFC8B8", side: THREE.DoubleSide, transparent: true, opacity: 0.42, depthWrite: false, clippingPlanes: [half] })));
  scene.add(new THREE.LineSegments(new THREE.EdgesGeometry(shape, 28), new THREE.LineBasicMaterial({ color: ink })));
  const tops = levels.length ? levels : [];
  tops.forEach((top, index) => {
    const from = index ? tops[index - 1] : 0;
    const planes = [new THREE.Plane(new THREE.Vector3(0, 0, -1), top), new THREE.Plane(new THREE.Vector3(0, 0, 1), -from), half];
    scene.add(new THREE.Mesh(shape, new THREE.MeshStandardMaterial({ color: tint, side: THREE.DoubleSide, transparent: true, opacity: 0.85 - 0.2 * Math.min(index, 3), clippingPlanes: planes })));
  });
  scene.add(new THREE.AmbientLight(0xffffff, 1.6), new THREE.DirectionalLight(0xffffff, 1.8));

  const size = Math.max(sx, sy, sz);
  const camera = new THREE.PerspectiveCamera(32, box.clientWidth / box.clientHeight, size / 100, size * 20);
  camera.up.set(0, 0, 1);
  let [turn, tilt] = [alongX ? Math.PI + 0.5 : -Math.PI / 2 - 0.5, 0.45];
  const show = () => {
    const far = size * 2.6;
    camera.position.set(Math.cos(turn) * Math.cos(tilt) * far, Math.sin(turn) * Math.cos(tilt) * far, sz / 2 + Math.sin(tilt) * far);
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
    const step = { ArrowLeft: [0.15, 0], ArrowRight: [-0.15, 0], ArrowUp: [0, 0.1], ArrowDown: [0, -0.1] }[event.key];
    if (!step) return;
    event.preventDefault();
    turn += step[0];
    tilt = Math.min(Math.max(tilt + step[1], -1.4), 1.4);
    show();
  };
  const down = (event: PointerEvent) => { held = event; box.setPointerCapture(event.pointerId); };
  const upKey = () => { held = null; };
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
    renderer.dispose();
    box.replaceChildren();
  };
}
