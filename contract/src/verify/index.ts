export { MerkleRoot, readAnchors, verifyAnchors, type Anchor, type AnchoredRecord } from './anchor';
export { BUNDLE_FORMAT, isBundleHead, type BundleLine, type KeptPaper, type KeptPicture, type KeptProcedure, type KeptRecord, type KeptRun } from './bundle';
export { codeUrl, readCode, verifyCode, type CertificateCode } from './certificate';
export { digestText, ENVELOPE_VERSION, GENESIS, sealText, type Envelope, type Link, type PositionedEvent, type Sha256 } from './seal';
export { verifyProcedures, verifyRun, type Fault, type FaultCode, type Otherwise, type RunReport } from './verify';
