export * from '../account/table';
export * from '../asset/table';
export * from '../instrument/table';
export * from '../leak/table';
export * from '../procedure/table';
export * from '../record/table';
export * from '../run/table';
export * from '../schedule/table';
